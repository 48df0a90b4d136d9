-- What was done to a whole column, beside the entry that did it.
CREATE TABLE column_act (
    entry_id INTEGER PRIMARY KEY REFERENCES history (id) ON DELETE CASCADE,
    item_id TEXT NOT NULL,
    action TEXT NOT NULL,
    value TEXT NOT NULL
) STRICT;
