-- Who looked at students' records: others than the instructor, and every export and print. A row for each day.
CREATE TABLE looked (
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    student_id TEXT NOT NULL,
    day TEXT NOT NULL,
    email TEXT NOT NULL COLLATE NOCASE,
    name TEXT NOT NULL,
    role TEXT NOT NULL,
    what TEXT NOT NULL,
    first_at TEXT NOT NULL,
    last_at TEXT NOT NULL,
    times INTEGER NOT NULL DEFAULT 1,
    PRIMARY KEY (section_id, student_id, day, email, role, what)
) STRICT, WITHOUT ROWID;
CREATE INDEX looked_student ON looked (student_id, day);
