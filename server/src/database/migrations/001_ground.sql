-- The ground: definitions, accounts, the record schema, and the ledger that captures every change.
-- {owner} and {app} are the names of the two database roles.

CREATE SCHEMA fiche;
CREATE SCHEMA data;
CREATE SCHEMA ledger;

-- People's order of text: digits by their number, so that B-2 comes before B-14.
CREATE COLLATION fiche.natural (provider = icu, locale = 'und-u-kn-true');

-- ---------------------------------------------------------------------------------------------- who and when

-- The account that writes. The application and the owner say it for their transaction; anybody else is stamped as
-- the database user they are, whatever they say.
CREATE FUNCTION fiche.actor() RETURNS text LANGUAGE plpgsql STABLE SET search_path = pg_catalog AS $$
DECLARE
  said text := nullif(current_setting('fiche.actor', true), '');
BEGIN
  IF session_user = '{app}' AND said IS NULL THEN
    RAISE EXCEPTION 'No actor: the application writes through asActor only' USING ERRCODE = 'insufficient_privilege';
  END IF;
  IF session_user IN ('{app}', '{owner}') AND said IS NOT NULL THEN
    RETURN said;
  END IF;
  RETURN 'db:' || session_user;
END $$;

-- Through what: a form and its version, a page, the Studio. NULL in a direct session.
CREATE FUNCTION fiche.through() RETURNS jsonb LANGUAGE sql STABLE SET search_path = pg_catalog AS $$
  SELECT CASE WHEN session_user IN ('{app}', '{owner}') THEN nullif(current_setting('fiche.through', true), '')::jsonb END
$$;

-- The moment of writing. Only the owner can give another one, for seeding a past.
CREATE FUNCTION fiche.moment() RETURNS timestamptz LANGUAGE sql STABLE SET search_path = pg_catalog AS $$
  SELECT coalesce(CASE WHEN session_user = '{owner}' THEN nullif(current_setting('fiche.at', true), '')::timestamptz END, now())
$$;

-- ---------------------------------------------------------------------------------------------- the ledger

CREATE TABLE ledger.line (
  id bigint GENERATED ALWAYS AS IDENTITY,
  at timestamptz NOT NULL,
  account text NOT NULL,
  through jsonb,
  -- Lines of one transaction belong to one save.
  transaction bigint NOT NULL,
  -- Where the record is: its schema and table, and its id there.
  place text NOT NULL,
  record text NOT NULL,
  version integer,
  kind text NOT NULL CHECK (kind IN ('add', 'change', 'archive', 'restore', 'erase')),
  before jsonb,
  after jsonb,
  PRIMARY KEY (id, at)
) PARTITION BY RANGE (at);
CREATE INDEX ON ledger.line (place, record, id);
CREATE INDEX ON ledger.line (at, id);
CREATE INDEX ON ledger.line (account, at);

CREATE FUNCTION ledger.refuse() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  RAISE EXCEPTION 'The ledger cannot be altered: % is refused', lower(TG_OP) USING ERRCODE = 'insufficient_privilege';
END $$;
CREATE TRIGGER refuse_alteration BEFORE UPDATE OR DELETE ON ledger.line FOR EACH ROW EXECUTE FUNCTION ledger.refuse();
CREATE TRIGGER refuse_truncation BEFORE TRUNCATE ON ledger.line FOR EACH STATEMENT EXECUTE FUNCTION ledger.refuse();

-- Makes the partitions of all months from one day to another, both included, and of what lies outside.
CREATE FUNCTION ledger.make_partitions(first date, last date) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  month date := date_trunc('month', first);
  name text;
BEGIN
  WHILE month <= last LOOP
    name := 'line_' || to_char(month, 'YYYY_MM');
    IF to_regclass('ledger.' || name) IS NULL THEN
      EXECUTE format('CREATE TABLE ledger.%I PARTITION OF ledger.line FOR VALUES FROM (%L) TO (%L)',
        name, month || ' 00:00+00', (month + interval '1 month')::date || ' 00:00+00');
      EXECUTE format('CREATE TRIGGER refuse_truncation BEFORE TRUNCATE ON ledger.%I FOR EACH STATEMENT EXECUTE FUNCTION ledger.refuse()', name);
    END IF;
    month := month + interval '1 month';
  END LOOP;
END $$;
CREATE TABLE ledger.line_other PARTITION OF ledger.line DEFAULT;
CREATE TRIGGER refuse_truncation BEFORE TRUNCATE ON ledger.line_other FOR EACH STATEMENT EXECUTE FUNCTION ledger.refuse();

-- Capture. Statement triggers with transition tables: one pass over all rows of a statement. The first argument names
-- the key columns, the second those that are never written down (audit fields, secrets).
CREATE FUNCTION ledger.key_of(entry jsonb, columns text) RETURNS text LANGUAGE sql IMMUTABLE SET search_path = pg_catalog AS $$
  SELECT CASE WHEN columns = 'id' THEN entry->>'id'
    ELSE (SELECT string_agg(entry->>name, '.' ORDER BY place) FROM unnest(string_to_array(columns, ',')) WITH ORDINALITY AS t(name, place)) END
$$;

CREATE FUNCTION ledger.capture_added() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog AS $$
BEGIN
  INSERT INTO ledger.line (at, account, through, transaction, place, record, version, kind, after)
  SELECT fiche.moment(), fiche.actor(), fiche.through(), txid_current(), TG_TABLE_SCHEMA || '.' || TG_TABLE_NAME,
    ledger.key_of(r.entry, TG_ARGV[0]), (r.entry->>'version')::integer, 'add', jsonb_strip_nulls(r.entry - string_to_array(TG_ARGV[1], ','))
  FROM (SELECT to_jsonb(n) AS entry FROM after_rows n) r;
  RETURN NULL;
END $$;

CREATE FUNCTION ledger.capture_changed() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog AS $$
BEGIN
  INSERT INTO ledger.line (at, account, through, transaction, place, record, version, kind, before, after)
  SELECT fiche.moment(), fiche.actor(), fiche.through(), txid_current(), TG_TABLE_SCHEMA || '.' || TG_TABLE_NAME,
    p.key, (p.new->>'version')::integer,
    CASE WHEN (p.old->>'archived_at') IS NULL AND (p.new->>'archived_at') IS NOT NULL THEN 'archive'
      WHEN (p.old->>'archived_at') IS NOT NULL AND (p.new->>'archived_at') IS NULL THEN 'restore' ELSE 'change' END,
    d.before, d.after
  FROM (
    SELECT o.key, o.entry AS old, n.entry AS new
    FROM (SELECT ledger.key_of(to_jsonb(x), TG_ARGV[0]) AS key, to_jsonb(x) AS entry FROM before_rows x) o
    JOIN (SELECT ledger.key_of(to_jsonb(x), TG_ARGV[0]) AS key, to_jsonb(x) AS entry FROM after_rows x) n USING (key)
  ) p
  CROSS JOIN LATERAL (
    SELECT jsonb_object_agg(e.key, e.value) AS before, jsonb_object_agg(e.key, p.new->e.key) AS after
    FROM jsonb_each(p.old - string_to_array(TG_ARGV[1], ',')) e WHERE e.value IS DISTINCT FROM p.new->e.key
  ) d
  WHERE d.before IS NOT NULL;
  RETURN NULL;
END $$;

CREATE FUNCTION ledger.capture_erased() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog AS $$
BEGIN
  INSERT INTO ledger.line (at, account, through, transaction, place, record, version, kind, before)
  SELECT fiche.moment(), fiche.actor(), fiche.through(), txid_current(), TG_TABLE_SCHEMA || '.' || TG_TABLE_NAME,
    ledger.key_of(r.entry, TG_ARGV[0]), (r.entry->>'version')::integer, 'erase', jsonb_strip_nulls(r.entry - string_to_array(TG_ARGV[1], ','))
  FROM (SELECT to_jsonb(o) AS entry FROM before_rows o) r;
  RETURN NULL;
END $$;

-- Puts a table under capture.
CREATE FUNCTION ledger.watch(place regclass, keys text, unwritten text) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  EXECUTE format('CREATE TRIGGER capture_added AFTER INSERT ON %s REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION ledger.capture_added(%L, %L)', place, keys, unwritten);
  EXECUTE format('CREATE TRIGGER capture_changed AFTER UPDATE ON %s REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION ledger.capture_changed(%L, %L)', place, keys, unwritten);
  EXECUTE format('CREATE TRIGGER capture_erased AFTER DELETE ON %s REFERENCING OLD TABLE AS before_rows FOR EACH STATEMENT EXECUTE FUNCTION ledger.capture_erased(%L, %L)', place, keys, unwritten);
END $$;

-- ---------------------------------------------------------------------------------------------- records

-- Stamps the audit fields and raises the version, on every path; whatever was written into them is overwritten.
CREATE FUNCTION fiche.stamp() RETURNS trigger LANGUAGE plpgsql SET search_path = pg_catalog AS $$
DECLARE
  who text := fiche.actor();
  moment timestamptz := fiche.moment();
BEGIN
  IF TG_OP = 'INSERT' THEN
    NEW.version := 1;
    NEW.created_at := moment;
    NEW.created_by := who;
  ELSE
    NEW.id := OLD.id;
    NEW.version := OLD.version + 1;
    NEW.created_at := OLD.created_at;
    NEW.created_by := OLD.created_by;
  END IF;
  NEW.changed_at := moment;
  NEW.changed_by := who;
  RETURN NEW;
END $$;

-- Makes the table that holds a table's records, with its audit fields, stamp and capture.
CREATE FUNCTION fiche.make_record_table(name text) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  EXECUTE format('CREATE TABLE data.%I (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    version integer NOT NULL,
    created_at timestamptz NOT NULL, created_by text NOT NULL,
    changed_at timestamptz NOT NULL, changed_by text NOT NULL,
    archived_at timestamptz)', name);
  EXECUTE format('CREATE TRIGGER stamp BEFORE INSERT OR UPDATE ON data.%I FOR EACH ROW EXECUTE FUNCTION fiche.stamp()', name);
  PERFORM ledger.watch(format('data.%I', name)::regclass, 'id', 'id,version,created_at,created_by,changed_at,changed_by');
  EXECUTE format('GRANT SELECT, UPDATE (archived_at) ON data.%I TO {app}', name);
END $$;

-- Sequence numbers: one PostgreSQL sequence per field, and per year where the year is part of the number. Given as a
-- column default, so that every path gets one and none can write one.
CREATE FUNCTION fiche.next_number(name text, prefix text, with_year boolean, width integer, first bigint)
RETURNS text LANGUAGE plpgsql VOLATILE SECURITY DEFINER SET search_path = pg_catalog AS $$
DECLARE
  year text := to_char(fiche.moment(), 'YYYY');
  counter text := name || CASE WHEN with_year THEN '_' || year ELSE '' END;
  number bigint;
BEGIN
  BEGIN
    number := nextval(format('fiche.%I', counter)::regclass);
  EXCEPTION WHEN undefined_table THEN
    PERFORM pg_advisory_xact_lock(hashtext(counter));
    EXECUTE format('CREATE SEQUENCE IF NOT EXISTS fiche.%I MINVALUE 0 START %s', counter, first);
    number := nextval(format('fiche.%I', counter)::regclass);
  END;
  RETURN prefix || CASE WHEN with_year THEN year || '-' ELSE '' END || lpad(number::text, greatest(width, length(number::text)), '0');
END $$;

-- ---------------------------------------------------------------------------------------------- definitions

CREATE TABLE fiche.cabinet (
  id text PRIMARY KEY,
  label text NOT NULL,
  -- Raised with each change of a definition: servers know by it whether what they remember is current.
  revision bigint NOT NULL DEFAULT 1
);

CREATE TABLE fiche."table" (
  id text PRIMARY KEY,
  cabinet text NOT NULL REFERENCES fiche.cabinet,
  label text NOT NULL,
  description text NOT NULL DEFAULT '',
  title text,
  rules jsonb NOT NULL DEFAULT '[]',
  position integer NOT NULL
);
CREATE UNIQUE INDEX ON fiche."table" (cabinet, lower(label));

CREATE TABLE fiche.field (
  table_id text NOT NULL REFERENCES fiche."table",
  id text NOT NULL,
  label text NOT NULL,
  type text NOT NULL,
  settings jsonb NOT NULL,
  required boolean NOT NULL,
  "unique" boolean NOT NULL,
  help text NOT NULL,
  initial jsonb,
  position integer NOT NULL,
  PRIMARY KEY (table_id, id)
);
CREATE UNIQUE INDEX ON fiche.field (table_id, lower(label));

CREATE TABLE fiche.form (
  id text PRIMARY KEY,
  cabinet text NOT NULL REFERENCES fiche.cabinet,
  table_id text NOT NULL REFERENCES fiche."table",
  draft jsonb NOT NULL,
  -- Raised with each saved draft: two builders cannot overwrite one another unseen.
  draft_revision integer NOT NULL DEFAULT 1,
  live_version integer,
  slug text UNIQUE,
  position integer NOT NULL
);

CREATE TABLE fiche.form_version (
  form_id text NOT NULL REFERENCES fiche.form,
  number integer NOT NULL,
  definition jsonb NOT NULL,
  published_at timestamptz NOT NULL,
  published_by text NOT NULL,
  PRIMARY KEY (form_id, number)
);

CREATE TABLE fiche.role (
  id text PRIMARY KEY,
  label text NOT NULL,
  rights text[] NOT NULL
);

CREATE TABLE fiche.account (
  login text PRIMARY KEY CHECK (login ~ '^[a-z][a-z0-9._-]{1,39}$'),
  display_name text NOT NULL,
  password_hash text NOT NULL,
  closed_at timestamptz
);

CREATE TABLE fiche.membership (
  login text NOT NULL REFERENCES fiche.account,
  cabinet text NOT NULL REFERENCES fiche.cabinet,
  role text NOT NULL REFERENCES fiche.role,
  PRIMARY KEY (login, cabinet)
);

-- A login is stamped into records, so it never changes.
CREATE FUNCTION fiche.keep_login() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF NEW.login <> OLD.login THEN RAISE EXCEPTION 'A login never changes'; END IF;
  RETURN NEW;
END $$;
CREATE TRIGGER keep_login BEFORE UPDATE ON fiche.account FOR EACH ROW EXECUTE FUNCTION fiche.keep_login();

SELECT ledger.watch('fiche.cabinet', 'id', 'id,revision');
SELECT ledger.watch('fiche."table"', 'id', 'id,position');
SELECT ledger.watch('fiche.field', 'table_id,id', 'table_id,id,position');
SELECT ledger.watch('fiche.form', 'id', 'id,position,draft,draft_revision,cabinet,slug');
SELECT ledger.watch('fiche.role', 'id', 'id');
SELECT ledger.watch('fiche.account', 'login', 'login,password_hash');
SELECT ledger.watch('fiche.membership', 'login,cabinet', 'login,cabinet');

-- ---------------------------------------------------------------------------------------------- running

CREATE TABLE fiche.session (
  token_hash text PRIMARY KEY,
  login text NOT NULL REFERENCES fiche.account,
  csrf text NOT NULL,
  created_at timestamptz NOT NULL DEFAULT now(),
  expires_at timestamptz NOT NULL
);

-- A save that was sent twice is answered twice and written once.
CREATE TABLE fiche.idempotency (
  account text NOT NULL,
  key text NOT NULL,
  body_hash text NOT NULL,
  -- The record that the save made or changed.
  record bigint NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (account, key)
);

-- How often something was tried within a window of time, for limits that hold across servers.
CREATE TABLE fiche.attempt (
  what text NOT NULL,
  window_start timestamptz NOT NULL,
  count integer NOT NULL,
  PRIMARY KEY (what, window_start)
);

GRANT USAGE ON SCHEMA fiche, data, ledger TO {app};
GRANT SELECT ON ALL TABLES IN SCHEMA fiche TO {app};
GRANT INSERT, UPDATE, DELETE ON fiche.session, fiche.attempt TO {app};
GRANT INSERT ON fiche.idempotency TO {app};
GRANT SELECT ON ledger.line TO {app};
REVOKE ALL ON FUNCTION ledger.make_partitions(date, date), ledger.watch(regclass, text, text), fiche.make_record_table(text) FROM PUBLIC;
SELECT ledger.make_partitions((now() - interval '30 months')::date, (now() + interval '3 months')::date);
