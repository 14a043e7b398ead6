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

-- What is printed on labels of a table, and on which sheets: what `labelLayoutSchema` of the core says.
CREATE TABLE fiche.label_layout (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  table_id text NOT NULL REFERENCES fiche."table",
  label text NOT NULL,
  definition jsonb NOT NULL,
  revision integer NOT NULL DEFAULT 1
);
CREATE INDEX ON fiche.label_layout (table_id);
SELECT ledger.watch('fiche.label_layout', 'id', 'id,revision');
GRANT SELECT ON fiche.label_layout TO {app};

-- Private addresses from which a calendar program reads the dates of a list. They show what their account sees at that moment.
CREATE TABLE fiche.calendar_address (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  table_id text NOT NULL REFERENCES fiche."table",
  account text NOT NULL REFERENCES fiche.account,
  -- The SHA-256 of the secret part of the address.
  token_hash text NOT NULL UNIQUE,
  -- What it lists and by which dates: what `calendarSchema` of the core says.
  what jsonb NOT NULL,
  made_at timestamptz NOT NULL DEFAULT now(),
  revoked_at timestamptz
);
CREATE INDEX ON fiche.calendar_address (account, table_id);
SELECT ledger.watch('fiche.calendar_address', 'id', 'id,made_at', 'token_hash');
GRANT SELECT ON fiche.calendar_address TO {app};

-- Records that were merged into another, so that whoever opens one of them finds the other.
CREATE TABLE fiche.merged (
  table_id text NOT NULL REFERENCES fiche."table",
  record bigint NOT NULL,
  into_record bigint NOT NULL,
  transaction bigint NOT NULL DEFAULT txid_current(),
  at timestamptz NOT NULL DEFAULT fiche.moment(),
  PRIMARY KEY (table_id, record, transaction)
);
CREATE INDEX ON fiche.merged (table_id, into_record);
GRANT SELECT, INSERT (table_id, record, into_record) ON fiche.merged TO {app};

-- For names that are almost the same.
CREATE EXTENSION IF NOT EXISTS unaccent;
CREATE EXTENSION IF NOT EXISTS fuzzystrmatch;
