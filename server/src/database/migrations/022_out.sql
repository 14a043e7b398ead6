-- Exports that somebody has asked for, and how far each is: written while it is downloaded, forgotten after an hour.
CREATE TABLE fiche.export (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  table_id text NOT NULL REFERENCES fiche."table",
  account text NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  -- What is written: what `exportOrderSchema` of the core says.
  what jsonb NOT NULL,
  total bigint NOT NULL,
  done bigint NOT NULL DEFAULT 0,
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'running', 'done', 'cancelled', 'failed'))
);
CREATE INDEX ON fiche.export (at);
GRANT SELECT, INSERT (table_id, account, what, total), UPDATE (done, state) ON fiche.export TO {app};
