CREATE TABLE run (
    term TEXT NOT NULL REFERENCES term (code),
    run TEXT NOT NULL CHECK (run IN ('midterm', 'final')),
    opens TEXT NOT NULL,
    due TEXT NOT NULL,
    PRIMARY KEY (term, run)
) STRICT;

INSERT INTO run SELECT code, 'final', opens, due FROM term;

ALTER TABLE term DROP COLUMN opens;

ALTER TABLE term DROP COLUMN due;

-- How the office works with others: its daily transfers, and the layout of files where it takes them.
ALTER TABLE school ADD COLUMN arrangements TEXT NOT NULL DEFAULT '{"transfers": [], "file": null}';

-- A grade can also come from a change of grade alone.
CREATE TABLE new_grade (
    section TEXT NOT NULL,
    run TEXT NOT NULL,
    student TEXT NOT NULL,
    code TEXT NOT NULL,
    last_attended TEXT,
    never_attended INTEGER NOT NULL,
    fallback_grade TEXT,
    finish_by TEXT,
    owed TEXT,
    sending INTEGER REFERENCES sending (number),
    PRIMARY KEY (section, run, student),
    FOREIGN KEY (section, student) REFERENCES roster (section, id)
) STRICT;

INSERT INTO new_grade
SELECT section, run, student, code, last_attended, never_attended, fallback_grade, finish_by, NULL, sending FROM grade;

DROP TABLE grade;

ALTER TABLE new_grade RENAME TO grade;

-- An incomplete whose date went by: what it was before the fallback grade was put in its place.
CREATE TABLE fallen_back (
    section TEXT NOT NULL,
    student TEXT NOT NULL,
    was TEXT NOT NULL,
    at TEXT NOT NULL,
    PRIMARY KEY (section, student)
) STRICT;

CREATE TABLE grade_change (
    number INTEGER PRIMARY KEY,
    key TEXT NOT NULL UNIQUE,
    section TEXT NOT NULL REFERENCES section (ref),
    student TEXT NOT NULL,
    asked TEXT NOT NULL,
    asked_by TEXT NOT NULL,
    received_at TEXT NOT NULL,
    state TEXT NOT NULL CHECK (state IN ('pending', 'granted', 'refused')),
    word TEXT,
    answered_at TEXT
) STRICT;

-- Switches for trying what happens in bad weather.
CREATE TABLE weather (
    slow_seconds INTEGER NOT NULL,
    down INTEGER NOT NULL,
    lose_answers INTEGER NOT NULL,
    refuse_at_random INTEGER NOT NULL
) STRICT;

INSERT INTO weather VALUES (0, 0, 0, 0);
