-- What else is written when a record of a table is saved: what `rippleSchema` of the core says, in order; null where there is none.
ALTER TABLE fiche."table" ADD COLUMN ripples jsonb;

-- What ripples wrote, so that it leads back to the save that it followed. The lines of both are in the ledger, of one transaction.
CREATE TABLE fiche.rippled (
  transaction bigint NOT NULL DEFAULT txid_current(),
  at timestamptz NOT NULL DEFAULT fiche.moment(),
  ripple text NOT NULL,
  -- The record whose save it followed, and the one that it wrote; null for a message.
  table_id text NOT NULL REFERENCES fiche."table",
  record bigint NOT NULL,
  to_table text REFERENCES fiche."table",
  to_record bigint
);
CREATE INDEX ON fiche.rippled (table_id, record);
CREATE INDEX ON fiche.rippled (to_table, to_record);
GRANT SELECT, INSERT (ripple, table_id, record, to_table, to_record) ON fiche.rippled TO {app};

-- The application reads the lines of its own transaction by their numbers: those that came after its beginning.
GRANT SELECT ON SEQUENCE ledger.line_id_seq TO {app};
