-- A few words kept with a cell.
CREATE TABLE cell_remark (
    section_id INTEGER NOT NULL,
    student_id TEXT NOT NULL,
    item_id TEXT NOT NULL,
    remark TEXT NOT NULL,
    PRIMARY KEY (section_id, student_id, item_id),
    FOREIGN KEY (section_id, student_id) REFERENCES student (section_id, id) ON DELETE CASCADE
) STRICT;

-- Whether students can see an item's scores; an item without a row is held back.
CREATE TABLE item_access (
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    item_id TEXT NOT NULL,
    access TEXT NOT NULL CHECK (access IN ('held', 'open', 'when_full')),
    PRIMARY KEY (section_id, item_id)
) STRICT;

-- A file being looked at: nothing of it is in the section until it is taken.
CREATE TABLE file_looked_at (
    id INTEGER PRIMARY KEY,
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    person_id INTEGER NOT NULL REFERENCES person (id),
    name TEXT NOT NULL,
    digest TEXT NOT NULL,
    content BLOB NOT NULL,
    sheet TEXT NOT NULL DEFAULT '',
    at TEXT NOT NULL
) STRICT;

-- How the columns and people of files of one shape (the same headings) were matched.
CREATE TABLE file_matching (
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    shape TEXT NOT NULL,
    matching TEXT NOT NULL,
    PRIMARY KEY (section_id, shape)
) STRICT;

-- Where taken numbers came from: the file, its digest, and how it was matched, beside the entry that took them.
CREATE TABLE file_taken (
    entry_id INTEGER PRIMARY KEY REFERENCES history (id) ON DELETE CASCADE,
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    name TEXT NOT NULL,
    digest TEXT NOT NULL,
    matching TEXT NOT NULL
) STRICT;
