-- Letter scales that a person keeps for reuse, by name.
CREATE TABLE saved_scale (
    id INTEGER PRIMARY KEY,
    person_id INTEGER NOT NULL REFERENCES person (id) ON DELETE CASCADE,
    name TEXT NOT NULL COLLATE NOCASE,
    rows TEXT NOT NULL,
    UNIQUE (person_id, name)
) STRICT;
