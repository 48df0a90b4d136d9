-- The page instance that an entry was written from: what one page writes is never a surprise to itself.
ALTER TABLE history ADD COLUMN page TEXT;
