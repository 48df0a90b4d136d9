-- What a section that was archived and removed leaves: what it was, whose, its archive's digest, and its receipts.
CREATE TABLE removed_section (
    id INTEGER PRIMARY KEY,
    former_id INTEGER NOT NULL UNIQUE,
    term TEXT NOT NULL,
    course TEXT NOT NULL,
    title TEXT NOT NULL,
    number TEXT NOT NULL,
    archive_name TEXT NOT NULL,
    archive_digest TEXT NOT NULL,
    receipts TEXT NOT NULL,
    removed_at TEXT NOT NULL
) STRICT;

CREATE TABLE removed_of (
    removed_id INTEGER NOT NULL REFERENCES removed_section (id) ON DELETE CASCADE,
    person_id INTEGER NOT NULL REFERENCES person (id) ON DELETE CASCADE,
    PRIMARY KEY (removed_id, person_id)
) STRICT;
CREATE INDEX removed_of_person ON removed_of (person_id);
