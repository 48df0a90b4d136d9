-- The office's windows and transfers, its file layout, and when it was last asked without an answer.
ALTER TABLE office_records ADD COLUMN hours TEXT;

ALTER TABLE office_records ADD COLUMN layout TEXT;

-- The roster as it was last taken over into the section: what differs from it has changed since.
CREATE TABLE roster_taken (
    section_id INTEGER PRIMARY KEY REFERENCES section (id) ON DELETE CASCADE,
    records TEXT NOT NULL
) STRICT;

INSERT INTO roster_taken SELECT section_id, records FROM office_records;

-- The findings that stood when it was signed; course_digest is over the course and them.
ALTER TABLE signing ADD COLUMN findings TEXT NOT NULL DEFAULT '';

-- Who signed, where the section came from an archive.
ALTER TABLE signing ADD COLUMN signer_name TEXT;

ALTER TABLE signing ADD COLUMN signer_email TEXT;

ALTER TABLE read_back ADD COLUMN fell_back TEXT NOT NULL DEFAULT '[]';

CREATE TABLE grade_change (
    id INTEGER PRIMARY KEY,
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    key TEXT NOT NULL,
    student_id TEXT NOT NULL,
    old TEXT,
    new TEXT NOT NULL,
    settled TEXT NOT NULL,
    owed TEXT,
    reason TEXT NOT NULL,
    evidence_note TEXT,
    evidence_name TEXT,
    evidence BLOB,
    asked_by TEXT NOT NULL,
    asker_email TEXT NOT NULL,
    asked_at TEXT NOT NULL,
    state TEXT NOT NULL CHECK (state IN ('waiting', 'sent', 'granted', 'refused', 'not taken')),
    number TEXT,
    word TEXT,
    answered_at TEXT,
    trouble TEXT,
    tried_at TEXT,
    UNIQUE (section_id, key)
) STRICT;

-- Settled grades that students can see, by run.
CREATE TABLE grades_opened (
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    run TEXT NOT NULL CHECK (run IN ('midterm', 'final')),
    at TEXT NOT NULL,
    PRIMARY KEY (section_id, run)
) STRICT;

-- The archive a section was taken from to be looked at; such a section is never changed or sent.
ALTER TABLE section ADD COLUMN archive TEXT;

-- Who did it, where the entry came with an archive.
ALTER TABLE history ADD COLUMN by_name TEXT;

-- A key names one sending within one section: an archive may be looked at beside the section it came from.
CREATE TABLE new_sending (
    id INTEGER PRIMARY KEY,
    signing_id INTEGER NOT NULL UNIQUE REFERENCES signing (id) ON DELETE CASCADE,
    key TEXT NOT NULL,
    rows TEXT NOT NULL,
    digest TEXT NOT NULL,
    state TEXT NOT NULL CHECK (state IN ('signed', 'waiting', 'received', 'refused')),
    trouble TEXT,
    receipt TEXT,
    answered_at TEXT,
    send_after TEXT,
    tried_at TEXT,
    by_file INTEGER NOT NULL DEFAULT 0
) STRICT;

INSERT INTO new_sending
SELECT id, signing_id, key, rows, digest, state, trouble, receipt, answered_at, NULL, NULL, 0
  FROM sending;

DROP TABLE sending;

ALTER TABLE new_sending RENAME TO sending;
