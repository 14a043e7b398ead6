-- Messages: who watches which record, what people are told of, what of it they want by mail, and what is sent out.
CREATE TABLE fiche.watch (
  table_id text NOT NULL,
  record bigint NOT NULL,
  login text NOT NULL REFERENCES fiche.account,
  since timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (table_id, record, login)
);
CREATE INDEX ON fiche.watch (login, since);

CREATE TABLE fiche.notice (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  login text NOT NULL REFERENCES fiche.account,
  cabinet text NOT NULL REFERENCES fiche.cabinet,
  -- A record names the account now; a record that it watches was changed; its work in the background has ended.
  kind text NOT NULL CHECK (kind IN ('assigned', 'changed', 'task')),
  by text NOT NULL,
  at timestamptz NOT NULL DEFAULT fiche.moment(),
  -- How often it has happened while it was not seen; of an import, how many records it assigned.
  times integer NOT NULL DEFAULT 1,
  table_id text,
  record bigint,
  task bigint REFERENCES fiche.task ON DELETE CASCADE,
  seen_at timestamptz,
  mailed_at timestamptz
);
CREATE INDEX ON fiche.notice (login, at DESC, id DESC);
CREATE INDEX ON fiche.notice (at);
CREATE INDEX ON fiche.notice (task) WHERE task IS NOT NULL;
CREATE INDEX ON fiche.notice (table_id, record) WHERE record IS NOT NULL;
-- What happens again to a record while it was not looked at is told once, with how often.
CREATE UNIQUE INDEX notice_once ON fiche.notice (login, kind, table_id, record) WHERE seen_at IS NULL AND record IS NOT NULL;
CREATE INDEX notice_to_mail ON fiche.notice (login) WHERE seen_at IS NULL AND mailed_at IS NULL;

-- The kinds of notices that somebody wants by mail; none without a row.
CREATE TABLE fiche.notice_settings (
  login text PRIMARY KEY REFERENCES fiche.account,
  mailed text[] NOT NULL
);

-- The outbox.
CREATE TABLE fiche.message (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  cabinet text NOT NULL REFERENCES fiche.cabinet,
  at timestamptz NOT NULL DEFAULT now(),
  kind text NOT NULL,
  -- The account that it is for; null for somebody outside.
  login text REFERENCES fiche.account,
  address text NOT NULL,
  subject text NOT NULL,
  body text NOT NULL,
  -- Records that it speaks of, as [{"table": …, "record": …}]: erasing one of them removes the words.
  about jsonb NOT NULL DEFAULT '[]',
  -- A one-time link that stands for {link} in the body: only as long as it has to be sent.
  secret text,
  -- Kept without being sent, since there was no mail server; waiting to be sent; sent; given up.
  state text NOT NULL CHECK (state IN ('kept', 'waiting', 'sent', 'failed')),
  tries integer NOT NULL DEFAULT 0,
  next_at timestamptz NOT NULL DEFAULT now(),
  sent_at timestamptz,
  problem text
);
CREATE INDEX ON fiche.message (cabinet, id);
CREATE INDEX ON fiche.message (at);
CREATE INDEX message_due ON fiche.message (next_at) WHERE state = 'waiting';

GRANT SELECT, INSERT, DELETE ON fiche.watch TO {app};
GRANT SELECT, INSERT (login, cabinet, kind, by, times, table_id, record), UPDATE (at, by, times, seen_at, mailed_at) ON fiche.notice TO {app};
GRANT SELECT, INSERT, UPDATE ON fiche.notice_settings TO {app};
GRANT SELECT (id, cabinet, at, kind, login, address, subject, body, state, tries, next_at, sent_at, problem) ON fiche.message TO {app};

-- Tells everybody who watches one of these records, but for who changes it, and wakes the pages that they have open.
CREATE FUNCTION fiche.notify_watchers(of_table text, records bigint[]) RETURNS void LANGUAGE sql SECURITY DEFINER SET search_path = pg_catalog, pg_temp AS $$
  WITH told AS (
    INSERT INTO fiche.notice (login, cabinet, kind, by, table_id, record)
    SELECT w.login, t.cabinet, 'changed', fiche.actor(), w.table_id, w.record
    FROM fiche.watch w JOIN fiche."table" t ON t.id = w.table_id
    WHERE w.table_id = of_table AND w.record = ANY(records) AND w.login <> fiche.actor() ORDER BY w.record, w.login
    ON CONFLICT (login, kind, table_id, record) WHERE seen_at IS NULL AND record IS NOT NULL DO UPDATE
      -- Two statements of one transaction are one change.
      SET times = notice.times + (notice.at <> excluded.at)::int, at = excluded.at, by = excluded.by, mailed_at = NULL
    RETURNING login)
  SELECT pg_notify('fiche_saved', json_build_object('table', 'account', 'record', login, 'by', fiche.actor(), 'kind', 'changed')::text)
  FROM (SELECT DISTINCT login FROM told) one
$$;
CREATE FUNCTION fiche.notify_changed() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, pg_temp AS $$
BEGIN
  IF NOT fiche.rebuilding() AND EXISTS (SELECT FROM fiche.watch WHERE table_id = TG_TABLE_NAME::text) THEN
    PERFORM fiche.notify_watchers(TG_TABLE_NAME::text,
      ARRAY(SELECT w.record FROM fiche.watch w JOIN after_rows a ON a.id = w.record WHERE w.table_id = TG_TABLE_NAME::text));
  END IF;
  RETURN NULL;
END $$;
REVOKE ALL ON FUNCTION fiche.notify_watchers(text, bigint[]), fiche.notify_changed() FROM PUBLIC;
GRANT EXECUTE ON FUNCTION fiche.notify_watchers(text, bigint[]) TO {app};

CREATE OR REPLACE FUNCTION fiche.make_record_table(name text) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  EXECUTE format('CREATE TABLE data.%I (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    version integer NOT NULL,
    created_at timestamptz NOT NULL, created_by text NOT NULL,
    changed_at timestamptz NOT NULL, changed_by text NOT NULL,
    archived_at timestamptz)', name);
  EXECUTE format('CREATE TRIGGER stamp BEFORE INSERT OR UPDATE ON data.%I FOR EACH ROW EXECUTE FUNCTION fiche.stamp()', name);
  EXECUTE format('CREATE TRIGGER refuse_truncation BEFORE TRUNCATE ON data.%I FOR EACH STATEMENT EXECUTE FUNCTION fiche.refuse_truncation()', name);
  EXECUTE format('CREATE TRIGGER notify_changed AFTER UPDATE ON data.%I REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION fiche.notify_changed()', name);
  PERFORM ledger.capture_records(name);
  EXECUTE format('GRANT SELECT, INSERT (archived_at), UPDATE (archived_at) ON data.%I TO {app}', name);
END $$;

DO $$
DECLARE name text;
BEGIN
  FOR name IN SELECT t.id FROM fiche."table" t JOIN pg_class c ON c.relname = t.id AND c.relnamespace = 'data'::regnamespace LOOP
    EXECUTE format('CREATE TRIGGER notify_changed AFTER UPDATE ON data.%I REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION fiche.notify_changed()', name);
  END LOOP;
END $$;

-- Whoever manages people reads the outbox: invitations go through it.
SELECT set_config('fiche.actor', 'upgrade', true), set_config('fiche.through', '{"kind": "upgrade", "label": "Messages"}', true);
UPDATE fiche.role SET rights = rights || '{outbox}' WHERE 'people' = ANY(rights);
SELECT set_config('fiche.actor', '', true), set_config('fiche.through', '', true);
