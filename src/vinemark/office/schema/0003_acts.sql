-- Who did what on the registrar's pages, and when a code was typed wrong.
CREATE TABLE act (
    number INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    person TEXT NOT NULL,
    what TEXT NOT NULL
) STRICT;
CREATE TABLE wrong_code (at REAL NOT NULL) STRICT;
