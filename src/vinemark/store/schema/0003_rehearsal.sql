-- A changed plan that is being tried; the plan in force stays in plan_version.
CREATE TABLE rehearsal (
    section_id INTEGER PRIMARY KEY REFERENCES section (id) ON DELETE CASCADE,
    base_version INTEGER NOT NULL,
    plan TEXT NOT NULL
) STRICT;
