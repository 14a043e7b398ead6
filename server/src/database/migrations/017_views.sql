-- Views: which records of a table are listed, in which order, and what is shown of each. One's own, or shared.
CREATE TABLE fiche.view (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  table_id text NOT NULL REFERENCES fiche."table",
  owner text NOT NULL REFERENCES fiche.account,
  label text NOT NULL,
  -- Columns, filter and sorting: what `listingSchema` of the core says.
  definition jsonb NOT NULL,
  shared boolean NOT NULL DEFAULT false,
  opens boolean NOT NULL DEFAULT false CHECK (shared OR NOT opens),
  revision integer NOT NULL DEFAULT 1
);
CREATE INDEX ON fiche.view (table_id);
-- A table opens on one view.
CREATE UNIQUE INDEX view_opens_once ON fiche.view (table_id) WHERE opens;
SELECT ledger.watch('fiche.view', 'id', 'id,revision');
GRANT SELECT ON fiche.view TO {app};
