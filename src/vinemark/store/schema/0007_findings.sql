-- A finding let stand with a reason; it counts only while the facts it was let stand on are the same.
CREATE TABLE finding_stand (
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    place TEXT NOT NULL,
    facts TEXT NOT NULL,
    reason TEXT NOT NULL,
    person TEXT NOT NULL,
    at TEXT NOT NULL,
    PRIMARY KEY (section_id, place)
) STRICT;
