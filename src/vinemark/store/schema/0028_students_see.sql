-- What of visible work students see; without a row as StudentsSee has it.
CREATE TABLE students_see (
    section_id INTEGER PRIMARY KEY REFERENCES section (id) ON DELETE CASCADE,
    chosen TEXT NOT NULL
) STRICT;

CREATE INDEX student_email ON student (email COLLATE NOCASE);
