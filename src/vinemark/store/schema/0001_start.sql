-- Numbers that must stay exact are TEXT. Times are the college's local time, ISO 8601, to the second.

CREATE TABLE person (
    id INTEGER PRIMARY KEY,
    email TEXT NOT NULL UNIQUE COLLATE NOCASE,
    name TEXT NOT NULL,
    password_hash TEXT NOT NULL,
    created_at TEXT NOT NULL
) STRICT;

CREATE TABLE sign_in_failure (
    id INTEGER PRIMARY KEY,
    email TEXT NOT NULL COLLATE NOCASE,
    address TEXT NOT NULL,
    at REAL NOT NULL
) STRICT;

CREATE INDEX sign_in_failure_email ON sign_in_failure (email, at);
CREATE INDEX sign_in_failure_address ON sign_in_failure (address, at);

CREATE TABLE section (
    id INTEGER PRIMARY KEY,
    term_name TEXT NOT NULL,
    term_starts TEXT NOT NULL,
    term_ends TEXT NOT NULL,
    course TEXT NOT NULL,
    title TEXT NOT NULL,
    number TEXT NOT NULL,
    syllabus TEXT,
    created_at TEXT NOT NULL
) STRICT;

CREATE TABLE section_person (
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    person_id INTEGER NOT NULL REFERENCES person (id),
    role TEXT NOT NULL CHECK (role IN ('instructor', 'grader', 'reviewer')),
    PRIMARY KEY (section_id, person_id)
) STRICT;

CREATE INDEX section_person_person ON section_person (person_id);

-- Every version of a plan stays; the highest is in force.
CREATE TABLE plan_version (
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    version INTEGER NOT NULL,
    plan TEXT NOT NULL,
    undoes INTEGER,
    PRIMARY KEY (section_id, version)
) STRICT;

CREATE TABLE student (
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    id TEXT NOT NULL,
    family_name TEXT NOT NULL,
    given_name TEXT NOT NULL,
    email TEXT,
    set_aside TEXT,
    place INTEGER NOT NULL,
    PRIMARY KEY (section_id, id)
) STRICT;

-- An item that leaves the plan keeps its scores, so that bringing it back brings them back.
CREATE TABLE score (
    section_id INTEGER NOT NULL,
    student_id TEXT NOT NULL,
    item_id TEXT NOT NULL,
    cell TEXT NOT NULL,
    PRIMARY KEY (section_id, student_id, item_id),
    FOREIGN KEY (section_id, student_id) REFERENCES student (section_id, id) ON DELETE CASCADE
) STRICT;

CREATE TABLE settled (
    section_id INTEGER NOT NULL,
    run TEXT NOT NULL CHECK (run IN ('midterm', 'final')),
    student_id TEXT NOT NULL,
    settled TEXT NOT NULL,
    PRIMARY KEY (section_id, run, student_id),
    FOREIGN KEY (section_id, student_id) REFERENCES student (section_id, id) ON DELETE CASCADE
) STRICT;

-- What the office said when it was last asked: roster, codes, dates.
CREATE TABLE office_records (
    section_id INTEGER PRIMARY KEY REFERENCES section (id) ON DELETE CASCADE,
    office_ref TEXT NOT NULL,
    records TEXT NOT NULL,
    opens TEXT NOT NULL,
    due TEXT NOT NULL,
    pulled_at TEXT NOT NULL
) STRICT;

-- A signing freezes what is signed; a sending carries it to the office under one key.
CREATE TABLE signing (
    id INTEGER PRIMARY KEY,
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    run TEXT NOT NULL CHECK (run IN ('midterm', 'final')),
    person_id INTEGER NOT NULL REFERENCES person (id),
    signed_at TEXT NOT NULL,
    course TEXT NOT NULL,
    course_digest TEXT NOT NULL,
    withdrawn_at TEXT
) STRICT;

CREATE TABLE sending (
    id INTEGER PRIMARY KEY,
    signing_id INTEGER NOT NULL UNIQUE REFERENCES signing (id) ON DELETE CASCADE,
    key TEXT NOT NULL UNIQUE,
    rows TEXT NOT NULL,
    digest TEXT NOT NULL,
    state TEXT NOT NULL CHECK (state IN ('signed', 'waiting', 'received', 'refused')),
    trouble TEXT,
    receipt TEXT,
    answered_at TEXT
) STRICT;

-- What the office held when it was last read back.
CREATE TABLE read_back (
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    run TEXT NOT NULL CHECK (run IN ('midterm', 'final')),
    rows TEXT NOT NULL,
    posted_at TEXT,
    read_at TEXT NOT NULL,
    PRIMARY KEY (section_id, run)
) STRICT;

-- One entry for every write. The request key makes a repeated request the same write.
CREATE TABLE history (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    person_id INTEGER REFERENCES person (id),
    section_id INTEGER REFERENCES section (id) ON DELETE CASCADE,
    kind TEXT NOT NULL,
    what TEXT NOT NULL,
    before TEXT,
    after TEXT,
    request_key TEXT UNIQUE,
    undoes INTEGER REFERENCES history (id)
) STRICT;

CREATE INDEX history_section ON history (section_id, id);
