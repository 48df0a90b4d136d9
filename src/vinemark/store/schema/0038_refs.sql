-- Every name of the registrar's that a section is linked to: several where it is cross-listed.
CREATE TABLE office_ref (
    ref TEXT NOT NULL,
    section_id INTEGER NOT NULL REFERENCES section (id) ON DELETE CASCADE,
    PRIMARY KEY (ref, section_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX office_ref_section ON office_ref (section_id);
INSERT INTO office_ref SELECT office_ref, section_id FROM office_records WHERE office_ref IS NOT NULL;
