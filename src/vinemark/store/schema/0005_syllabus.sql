-- Every version of a syllabus stays; the highest is in force. `reading` is what it says, as read and corrected by hand.
CREATE TABLE syllabus_version (
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    version INTEGER NOT NULL,
    text TEXT NOT NULL,
    source TEXT NOT NULL,
    reading TEXT NOT NULL,
    kept_at TEXT NOT NULL,
    PRIMARY KEY (section_id, version)
) STRICT;

-- How a clause that no rule holds is handled, or why a difference stands; it counts only while `said` is the same.
CREATE TABLE syllabus_note (
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    key TEXT NOT NULL,
    said TEXT NOT NULL,
    note TEXT NOT NULL,
    PRIMARY KEY (section_id, key)
) STRICT;

-- The instructor's word that plan and syllabus agree, with the differences that were open then.
CREATE TABLE match_signing (
    id INTEGER PRIMARY KEY,
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    plan_version INTEGER NOT NULL,
    syllabus_version INTEGER NOT NULL,
    open_differences TEXT NOT NULL,
    person_id INTEGER NOT NULL REFERENCES person (id),
    signed_at TEXT NOT NULL
) STRICT;
