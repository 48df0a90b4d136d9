-- Single sign-on: who somebody is at the identity provider, the parts that it says they have, and by which sign-in
-- there somebody is signed in here.
CREATE TABLE identity (
    issuer TEXT NOT NULL,
    subject TEXT NOT NULL,
    person_id INTEGER NOT NULL REFERENCES person (id) ON DELETE CASCADE,
    PRIMARY KEY (issuer, subject)
) STRICT;
CREATE INDEX identity_person ON identity (person_id);

CREATE TABLE claimed_role (
    person_id INTEGER NOT NULL REFERENCES person (id) ON DELETE CASCADE,
    role TEXT NOT NULL CHECK (role IN ('administrator', 'chair')),
    department TEXT NOT NULL DEFAULT '' COLLATE NOCASE,
    PRIMARY KEY (person_id, role, department)
) STRICT;

ALTER TABLE signed_in ADD COLUMN id_token TEXT NOT NULL DEFAULT '';
ALTER TABLE signed_in ADD COLUMN sid TEXT NOT NULL DEFAULT '';
CREATE INDEX signed_in_sid ON signed_in (sid) WHERE sid <> '';
