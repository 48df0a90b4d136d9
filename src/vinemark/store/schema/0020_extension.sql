-- A due date of one student for one item, later than that of the class.
CREATE TABLE extension (
    section_id INTEGER NOT NULL,
    student_id TEXT NOT NULL,
    item_id TEXT NOT NULL,
    due TEXT NOT NULL,
    PRIMARY KEY (section_id, student_id, item_id),
    FOREIGN KEY (section_id, student_id) REFERENCES student (section_id, id) ON DELETE CASCADE
) STRICT;
