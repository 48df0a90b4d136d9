-- Files that take long to make: asked for by a person, made in the background, kept for an hour. `until` is how long
-- whoever makes it may be silent before it counts as interrupted; `role` is what the person was when it was made.
CREATE TABLE made_file (
    token TEXT PRIMARY KEY,
    person_id INTEGER NOT NULL REFERENCES person (id) ON DELETE CASCADE,
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    role TEXT NOT NULL,
    what TEXT NOT NULL,
    of TEXT NOT NULL,
    name TEXT NOT NULL,
    kind TEXT NOT NULL,
    at REAL NOT NULL,
    until REAL NOT NULL,
    progress TEXT NOT NULL DEFAULT '',
    refused TEXT,
    content BLOB
) STRICT;
CREATE INDEX made_file_of_person ON made_file (person_id, section_id, of);
CREATE INDEX made_file_of_section ON made_file (section_id);
CREATE INDEX made_file_at ON made_file (at);
