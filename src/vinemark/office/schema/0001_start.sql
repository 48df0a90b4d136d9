CREATE TABLE school (
    name TEXT NOT NULL,
    rules TEXT NOT NULL
) STRICT;

CREATE TABLE term (
    code TEXT PRIMARY KEY,
    name TEXT NOT NULL,
    starts TEXT NOT NULL,
    ends TEXT NOT NULL,
    opens TEXT NOT NULL,
    due TEXT NOT NULL
) STRICT;

CREATE TABLE section (
    ref TEXT PRIMARY KEY,
    term TEXT NOT NULL REFERENCES term (code),
    course TEXT NOT NULL,
    title TEXT NOT NULL,
    number TEXT NOT NULL,
    instructor TEXT NOT NULL COLLATE NOCASE
) STRICT;

CREATE TABLE roster (
    section TEXT NOT NULL REFERENCES section (ref),
    place INTEGER NOT NULL,
    id TEXT NOT NULL,
    family_name TEXT NOT NULL,
    given_name TEXT NOT NULL,
    email TEXT,
    status TEXT NOT NULL CHECK (status IN ('enrolled', 'withdrawn', 'auditing')),
    basis TEXT NOT NULL CHECK (basis IN ('letter', 'pass')),
    PRIMARY KEY (section, id)
) STRICT;

CREATE TABLE sending (
    number INTEGER PRIMARY KEY,
    key TEXT NOT NULL UNIQUE,
    section TEXT NOT NULL REFERENCES section (ref),
    run TEXT NOT NULL,
    digest TEXT NOT NULL,
    signed_by TEXT NOT NULL,
    received_at TEXT NOT NULL,
    receipt TEXT NOT NULL
) STRICT;

CREATE TABLE grade (
    section TEXT NOT NULL,
    run TEXT NOT NULL,
    student TEXT NOT NULL,
    code TEXT NOT NULL,
    last_attended TEXT,
    never_attended INTEGER NOT NULL,
    fallback_grade TEXT,
    finish_by TEXT,
    sending INTEGER NOT NULL REFERENCES sending (number),
    PRIMARY KEY (section, run, student),
    FOREIGN KEY (section, student) REFERENCES roster (section, id)
) STRICT;

CREATE TABLE posting (
    section TEXT NOT NULL REFERENCES section (ref),
    run TEXT NOT NULL,
    posted_at TEXT NOT NULL,
    PRIMARY KEY (section, run)
) STRICT;
