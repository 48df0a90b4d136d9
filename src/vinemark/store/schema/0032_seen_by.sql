-- Grades that only some students see: those who do.
ALTER TABLE grades_opened ADD COLUMN only_some INTEGER NOT NULL DEFAULT 0;

CREATE TABLE grade_seen_by (
    section_id INTEGER NOT NULL,
    run TEXT NOT NULL CHECK (run IN ('midterm', 'final')),
    student_id TEXT NOT NULL,
    PRIMARY KEY (section_id, run, student_id),
    FOREIGN KEY (section_id, student_id) REFERENCES student (section_id, id) ON DELETE CASCADE ON UPDATE CASCADE
) STRICT;
CREATE INDEX grade_seen_by_student ON grade_seen_by (section_id, student_id);
