-- Each entry's seal follows from the one before it in its section. `first_digest` is that of an entry before a deletion
-- of a student rewrote it.
ALTER TABLE history ADD COLUMN salt BLOB;

ALTER TABLE history ADD COLUMN seal BLOB;

ALTER TABLE history ADD COLUMN first_digest BLOB;

-- The seal of the entry of the signature: sent with the grades, and printed on the receipt.
ALTER TABLE signing ADD COLUMN history_seal TEXT NOT NULL DEFAULT '';
