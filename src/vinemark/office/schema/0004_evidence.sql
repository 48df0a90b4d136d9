-- The file that came with a request for a change of grade, for whoever answers it.
CREATE TABLE evidence (
    number INTEGER PRIMARY KEY REFERENCES grade_change (number),
    name TEXT NOT NULL,
    content BLOB NOT NULL
) STRICT;
