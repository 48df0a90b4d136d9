-- A role in a section for somebody who has no account yet: they get it once one has this address.
CREATE TABLE waiting_role (
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    email TEXT NOT NULL COLLATE NOCASE,
    role TEXT NOT NULL CHECK (role IN ('instructor', 'grader', 'reviewer')),
    PRIMARY KEY (section_id, email)
) STRICT;

CREATE INDEX waiting_role_email ON waiting_role (email);
