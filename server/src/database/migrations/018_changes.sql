-- Changes of many records. A plan is checked, and waits for a person to say that it is to be written; kept a week.
CREATE TABLE fiche.change_plan (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  cabinet text NOT NULL REFERENCES fiche.cabinet,
  table_id text NOT NULL REFERENCES fiche."table",
  account text NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  -- What becomes of which records: what `changePlanSchema` of the core says, or the change that is put back.
  plan jsonb NOT NULL,
  state text NOT NULL DEFAULT 'planned' CHECK (state IN ('planned', 'checked', 'written')),
  -- What the check found: how many records, what becomes of some of them, what stands against others.
  counts jsonb,
  preview jsonb,
  -- The table as it was checked, and the columns that are written.
  table_revision integer,
  columns text[]
);
CREATE INDEX ON fiche.change_plan (at);
GRANT SELECT ON fiche.change_plan TO {app};

-- Changes that were written, under the number of their plan. Its records are the lines of its transaction.
CREATE TABLE fiche.change (
  id bigint PRIMARY KEY,
  cabinet text NOT NULL REFERENCES fiche.cabinet,
  table_id text NOT NULL REFERENCES fiche."table",
  -- What was done, as a person planned it.
  what jsonb NOT NULL,
  counts jsonb NOT NULL,
  -- The change whose records it puts back.
  put_back bigint REFERENCES fiche.change,
  transaction bigint NOT NULL DEFAULT txid_current()
);
SELECT ledger.watch('fiche.change', 'id', 'id,cabinet,transaction');
GRANT SELECT ON fiche.change TO {app};
