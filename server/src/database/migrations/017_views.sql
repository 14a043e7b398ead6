-- Views: which records of a table are listed, in which order, and what is shown of each. One's own, or shared.
CREATE TABLE fiche.view (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  table_id text NOT NULL REFERENCES fiche."table",
  owner text NOT NULL REFERENCES fiche.account,
  label text NOT NULL,
  -- Columns, filter and sorting: what `listingSchema` of the core says.
  definition jsonb NOT NULL,
  shared boolean NOT NULL DEFAULT false,
  -- The roles that a shared view is for; null for all.
  roles text[] CHECK (shared OR roles IS NULL),
  opens boolean NOT NULL DEFAULT false CHECK (shared OR NOT opens),
  revision integer NOT NULL DEFAULT 1
);
CREATE INDEX ON fiche.view (table_id);
-- A table opens on one view.
CREATE UNIQUE INDEX view_opens_once ON fiche.view (table_id) WHERE opens;
SELECT ledger.watch('fiche.view', 'id', 'id,revision');
GRANT SELECT ON fiche.view TO {app};

-- Who watches which view. Lines of transactions before `began` were written before they did.
CREATE TABLE fiche.view_watch (
  view_id bigint NOT NULL REFERENCES fiche.view ON DELETE CASCADE,
  login text NOT NULL REFERENCES fiche.account,
  since timestamptz NOT NULL DEFAULT now(),
  began bigint NOT NULL DEFAULT txid_snapshot_xmin(txid_current_snapshot()),
  PRIMARY KEY (view_id, login)
);
CREATE INDEX ON fiche.view_watch (login);
GRANT SELECT, INSERT (view_id, login), DELETE ON fiche.view_watch TO {app};
-- Up to which transaction the ledger has been read for watched views: all transactions before it are over.
CREATE TABLE fiche.views_notified (read_to bigint NOT NULL);
INSERT INTO fiche.views_notified SELECT txid_snapshot_xmin(txid_current_snapshot());

ALTER TABLE fiche.notice DROP CONSTRAINT notice_kind_check;
ALTER TABLE fiche.notice
  ADD CHECK (kind IN ('assigned', 'changed', 'view', 'task')),
  ADD COLUMN view_id bigint REFERENCES fiche.view ON DELETE CASCADE;
CREATE UNIQUE INDEX notice_view_once ON fiche.notice (login, view_id) WHERE seen_at IS NULL AND view_id IS NOT NULL;
