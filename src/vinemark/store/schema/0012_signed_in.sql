-- Where people are signed in. Of the key in a browser's cookie only the SHA-256 is kept.
CREATE TABLE signed_in (
    id INTEGER PRIMARY KEY,
    key_digest TEXT NOT NULL UNIQUE,
    person_id INTEGER NOT NULL REFERENCES person (id) ON DELETE CASCADE,
    began REAL NOT NULL,
    seen REAL NOT NULL,
    address TEXT NOT NULL,
    browser TEXT NOT NULL,
    notice TEXT
) STRICT;
CREATE INDEX signed_in_person ON signed_in (person_id);

-- From which device a try came: one that the person signed in from before is held apart from all others.
ALTER TABLE sign_in_failure ADD COLUMN device TEXT NOT NULL DEFAULT '';
