-- A student's question about a score, and the answer to it; both stay with the cell.
CREATE TABLE question (
    id INTEGER PRIMARY KEY,
    section_id INTEGER NOT NULL,
    student_id TEXT NOT NULL,
    item_id TEXT NOT NULL,
    question TEXT NOT NULL,
    asked_at TEXT NOT NULL,
    answer TEXT,
    answered_by TEXT,
    answered_at TEXT,
    FOREIGN KEY (section_id, student_id) REFERENCES student (section_id, id) ON DELETE CASCADE
) STRICT;

CREATE INDEX question_cell ON question (section_id, student_id, item_id);
