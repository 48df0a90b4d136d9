-- Figures from elsewhere that the section's grades were held against, kept to be looked at again.
CREATE TABLE comparison (
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    name TEXT NOT NULL,
    headings TEXT NOT NULL,
    likely INTEGER NOT NULL,
    against TEXT NOT NULL CHECK (against IN ('computed', 'final', 'midterm')),
    unknown TEXT NOT NULL,
    at TEXT NOT NULL,
    PRIMARY KEY (section_id, number)
) STRICT;

CREATE TABLE comparison_figure (
    section_id INTEGER NOT NULL,
    number INTEGER NOT NULL,
    student_id TEXT NOT NULL,
    place INTEGER NOT NULL,
    figure TEXT NOT NULL,
    PRIMARY KEY (section_id, number, student_id, place),
    FOREIGN KEY (section_id, number) REFERENCES comparison (section_id, number) ON DELETE CASCADE,
    FOREIGN KEY (section_id, student_id) REFERENCES student (section_id, id) ON DELETE CASCADE
) STRICT;

