-- Doors: the first administrator's one-time key, what was begun on a form's version, answers held for a person to look at.

-- Keys that make the first administrator of an office that has none: by their hash, for an hour, once.
CREATE TABLE fiche.first_key (
  token_hash text PRIMARY KEY,
  expires_at timestamptz NOT NULL
);

-- What tokens are signed with that say on which version of a form somebody began, and that a page was opened.
CREATE TABLE fiche.signing (key text NOT NULL);
INSERT INTO fiche.signing VALUES (encode(uuid_send(gen_random_uuid()) || uuid_send(gen_random_uuid()), 'hex'));
GRANT SELECT ON fiche.signing TO {app};

-- Answers of a public page that look like spam: a person releases or discards them, nothing is lost.
CREATE TABLE fiche.held_answer (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  form_id text NOT NULL REFERENCES fiche.form,
  version integer NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  -- Why it is held, in words.
  why text NOT NULL,
  body jsonb NOT NULL,
  key text NOT NULL,
  decided_at timestamptz,
  decided_by text,
  decision text CHECK (decision IN ('released', 'discarded')),
  reason text,
  UNIQUE (form_id, key)
);
CREATE INDEX ON fiche.held_answer (form_id, id) WHERE decided_at IS NULL;
GRANT SELECT, INSERT, UPDATE (decided_at, decided_by, decision, reason) ON fiche.held_answer TO {app};

-- What uploads count against: who sent them and when.
CREATE INDEX ON fiche.file (sent_by, sent_at);
