-- Personal links to a public page. The secret of a link is signed from its number, so that none is kept.
CREATE TABLE fiche.personal_link (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  form_id text NOT NULL REFERENCES fiche.form,
  -- The record that it was made for.
  table_id text NOT NULL REFERENCES fiche."table",
  record bigint NOT NULL,
  -- Good for one answer; otherwise for any number.
  once boolean NOT NULL,
  -- The last moment at which it can be used, in civil time of the office; null for as long as the page is open.
  until timestamp,
  withdrawn boolean NOT NULL DEFAULT false,
  -- When a message with it was put into the outbox.
  mailed_at timestamptz
);
CREATE UNIQUE INDEX personal_link_once ON fiche.personal_link (form_id, record) WHERE NOT withdrawn;
SELECT ledger.watch('fiche.personal_link', 'id', 'id,mailed_at');
GRANT SELECT ON fiche.personal_link TO {app};

-- Texts of consent as pages showed them, each kept once.
CREATE TABLE fiche.consent_text (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  form_id text NOT NULL REFERENCES fiche.form,
  text text NOT NULL,
  since timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX consent_text_once ON fiche.consent_text (form_id, md5(text));
GRANT SELECT, INSERT (form_id, text) ON fiche.consent_text TO {app};

-- The answers of public pages: where each came from and which records it made.
CREATE TABLE fiche.answer (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  form_id text NOT NULL REFERENCES fiche.form,
  version integer NOT NULL,
  at timestamptz NOT NULL DEFAULT fiche.moment(),
  reference text NOT NULL,
  -- The label of the code, or the number of the personal link, that opened the page.
  code text,
  link_id bigint REFERENCES fiche.personal_link,
  once boolean NOT NULL DEFAULT false,
  -- The record that a limit for each record counts by.
  counts_for bigint,
  -- What it wrote or found, as [{"table": …, "record": …, "did": …}]; the form’s own record comes first.
  records jsonb NOT NULL,
  consent_id bigint REFERENCES fiche.consent_text,
  -- The number of the held answer that was released.
  held_id bigint REFERENCES fiche.held_answer,
  corrections integer NOT NULL DEFAULT 0,
  corrected_at timestamptz,
  -- When its records were erased, as its page says, and which of them were not, in words.
  erased_at timestamptz,
  not_erased text
);
CREATE INDEX ON fiche.answer (form_id, id);
CREATE INDEX ON fiche.answer (form_id, counts_for) WHERE counts_for IS NOT NULL;
CREATE INDEX ON fiche.answer (link_id) WHERE link_id IS NOT NULL;
CREATE UNIQUE INDEX answer_once ON fiche.answer (link_id) WHERE once;
CREATE INDEX answer_records ON fiche.answer USING gin (records jsonb_path_ops);
GRANT SELECT, INSERT (form_id, version, reference, code, link_id, once, counts_for, records, consent_id, held_id), UPDATE (corrections, corrected_at, counts_for) ON fiche.answer TO {app};

-- How the sender of a held answer came to the page: the columns of `fiche.answer` that are not known later.
ALTER TABLE fiche.held_answer ADD COLUMN access jsonb NOT NULL DEFAULT '{}';

-- The answers that public pages took before, from the ledger.
INSERT INTO fiche.answer (form_id, version, at, reference, records)
SELECT f.id, coalesce((l.through->>'version')::integer, f.live_version), l.at, 'No. ' || l.record,
  jsonb_build_array(jsonb_build_object('table', f.table_id, 'record', l.record::bigint, 'did', 'added'))
FROM fiche.form f JOIN ledger.line l ON l.account = 'page:' || f.slug AND l.kind = 'add' AND l.place = 'data.' || f.table_id
ORDER BY l.at, l.id;

-- A confirmation is written with the answer that it confirms.
GRANT INSERT (cabinet, kind, login, address, subject, body, about, secret, state) ON fiche.message TO {app};

-- Who watches which form: answers of its public page come into their inbox, counted while they are not seen.
CREATE TABLE fiche.form_watch (
  form_id text NOT NULL REFERENCES fiche.form,
  login text NOT NULL REFERENCES fiche.account,
  since timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (form_id, login)
);
CREATE INDEX ON fiche.form_watch (login);
GRANT SELECT, INSERT (form_id, login), DELETE ON fiche.form_watch TO {app};
ALTER TABLE fiche.notice DROP CONSTRAINT notice_kind_check;
ALTER TABLE fiche.notice
  ADD CHECK (kind IN ('assigned', 'changed', 'view', 'task', 'answers')),
  ADD COLUMN form_id text REFERENCES fiche.form;
CREATE UNIQUE INDEX notice_form_once ON fiche.notice (login, form_id) WHERE seen_at IS NULL AND form_id IS NOT NULL;
GRANT INSERT (form_id) ON fiche.notice TO {app};
