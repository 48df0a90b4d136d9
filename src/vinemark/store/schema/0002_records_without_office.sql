-- A section from a course file has the office's records but no link to the office.
CREATE TABLE new_records (
    section_id INTEGER PRIMARY KEY REFERENCES section (id) ON DELETE CASCADE,
    office_ref TEXT,
    records TEXT NOT NULL,
    opens TEXT,
    due TEXT,
    pulled_at TEXT NOT NULL
) STRICT;

INSERT INTO new_records SELECT section_id, office_ref, records, opens, due, pulled_at FROM office_records;

DROP TABLE office_records;

ALTER TABLE new_records RENAME TO office_records;
