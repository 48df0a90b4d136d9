-- The college: its departments, its terms, what it decides, and who administers it or chairs a department.
CREATE TABLE department (
    name TEXT PRIMARY KEY COLLATE NOCASE,
    subjects TEXT NOT NULL
) STRICT;

CREATE TABLE college_term (
    name TEXT PRIMARY KEY COLLATE NOCASE,
    starts TEXT NOT NULL,
    ends TEXT NOT NULL
) STRICT;

CREATE TABLE college_choice (
    name TEXT PRIMARY KEY,
    value TEXT NOT NULL
) STRICT;

-- By address, so that a part can be given before there is an account.
CREATE TABLE college_role (
    email TEXT NOT NULL COLLATE NOCASE,
    role TEXT NOT NULL CHECK (role IN ('administrator', 'chair')),
    department TEXT NOT NULL DEFAULT '' COLLATE NOCASE,
    PRIMARY KEY (email, role, department)
) STRICT;
CREATE INDEX college_role_department ON college_role (department);

CREATE TABLE invited (
    email TEXT PRIMARY KEY COLLATE NOCASE,
    name TEXT NOT NULL,
    at TEXT NOT NULL
) STRICT;

CREATE INDEX section_term ON section (term_starts, term_name, term_ends);
CREATE INDEX letter_recipient ON letter (recipient);
