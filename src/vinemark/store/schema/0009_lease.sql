-- Who goes round for what waits for the registrar, and until when: one server process at a time.
CREATE TABLE lease (
    name TEXT PRIMARY KEY,
    holder TEXT NOT NULL,
    until TEXT NOT NULL
) STRICT;
