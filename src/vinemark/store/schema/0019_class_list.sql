-- What an instructor keeps about a student beside the scores, and the other numbers that a student had here before.
CREATE TABLE student_detail (
    section_id INTEGER NOT NULL,
    student_id TEXT NOT NULL,
    preferred TEXT NOT NULL,
    pronunciation TEXT NOT NULL,
    remark TEXT NOT NULL,
    joined TEXT,
    PRIMARY KEY (section_id, student_id),
    FOREIGN KEY (section_id, student_id) REFERENCES student (section_id, id) ON DELETE CASCADE
) STRICT;

CREATE TABLE former_id (
    section_id INTEGER NOT NULL,
    former_id TEXT NOT NULL,
    student_id TEXT NOT NULL,
    PRIMARY KEY (section_id, former_id),
    FOREIGN KEY (section_id, student_id) REFERENCES student (section_id, id) ON DELETE CASCADE
) STRICT;

-- A section to try things on, with made-up people: it goes in one act, without an archive.
ALTER TABLE section ADD COLUMN practice INTEGER NOT NULL DEFAULT 0;

-- Who works together on an item, by the name of their group.
CREATE TABLE item_group (
    section_id INTEGER NOT NULL,
    item_id TEXT NOT NULL,
    student_id TEXT NOT NULL,
    name TEXT NOT NULL,
    PRIMARY KEY (section_id, item_id, student_id),
    FOREIGN KEY (section_id, student_id) REFERENCES student (section_id, id) ON DELETE CASCADE
) STRICT;
