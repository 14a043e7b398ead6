-- What narrows a link wherever it is written: a group of conditions, or null.
ALTER TABLE fiche.field ADD COLUMN narrowing jsonb;
