-- Attachments: what is in a file, stored once by content, in parts, so that it streams in and out; and the files that have
-- that content, each with the name that it came with. A file is claimed by the save that first names it.
CREATE TABLE fiche.content (
  id bigserial PRIMARY KEY,
  -- Null while it is still on its way.
  sha256 text UNIQUE,
  size bigint NOT NULL DEFAULT 0,
  kind text NOT NULL DEFAULT 'application/octet-stream',
  thumbnail bytea,
  begun_at timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE fiche.content_part (
  content bigint NOT NULL REFERENCES fiche.content ON DELETE CASCADE,
  n int NOT NULL,
  bytes bytea NOT NULL,
  PRIMARY KEY (content, n)
);
-- Files are compressed already, nearly all of them.
ALTER TABLE fiche.content_part ALTER COLUMN bytes SET STORAGE EXTERNAL;
CREATE TABLE fiche.file (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  content bigint NOT NULL REFERENCES fiche.content,
  table_id text NOT NULL REFERENCES fiche."table",
  name text NOT NULL,
  sent_by text NOT NULL,
  sent_at timestamptz NOT NULL DEFAULT now(),
  claimed_at timestamptz
);
CREATE INDEX ON fiche.file (content);
CREATE INDEX ON fiche.file (sent_at) WHERE claimed_at IS NULL;
GRANT SELECT, INSERT, UPDATE, DELETE ON fiche.content, fiche.content_part, fiche.file TO {app};
GRANT USAGE ON SEQUENCE fiche.content_id_seq TO {app};
