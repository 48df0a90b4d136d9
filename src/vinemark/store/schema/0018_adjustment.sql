-- Percentage points given to one student, or taken, and why.
CREATE TABLE adjustment (
    section_id INTEGER NOT NULL,
    student_id TEXT NOT NULL,
    percent TEXT NOT NULL,
    reason TEXT NOT NULL,
    PRIMARY KEY (section_id, student_id),
    FOREIGN KEY (section_id, student_id) REFERENCES student (section_id, id) ON DELETE CASCADE
) STRICT;
