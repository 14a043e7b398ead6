-- The backups that were taken of this database, told by the command that takes them: what the page of operation shows.
CREATE TABLE fiche.backup (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  begun_at timestamptz NOT NULL DEFAULT now(),
  ended_at timestamptz,
  kind text NOT NULL CHECK (kind IN ('base', 'dump')),
  state text NOT NULL CHECK (state IN ('running', 'done', 'failed')),
  -- Where it was written, as the command was told; never a secret.
  place text NOT NULL,
  bytes bigint,
  encrypted boolean NOT NULL,
  -- When a restore of it was last verified.
  verified_at timestamptz,
  message text
);
GRANT SELECT ON fiche.backup TO {app};
