-- Lines are chained per record and sealed; capture is written out for each record table, and is several times cheaper.

-- Compared by bytes: quicker than any language's order, and the same on every machine.
ALTER TABLE ledger.line
  ALTER COLUMN account TYPE text COLLATE "C", ALTER COLUMN place TYPE text COLLATE "C", ALTER COLUMN record TYPE text COLLATE "C",
  ALTER COLUMN through TYPE json USING through::json, ALTER COLUMN before TYPE json USING before::json, ALTER COLUMN after TYPE json USING after::json,
  ADD COLUMN previous bytea, ADD COLUMN hash bytea;
DROP INDEX ledger.line_at_id_idx, ledger.line_account_at_idx;
CREATE INDEX ON ledger.line (account, id);
-- Transactions begin in the order of their numbers, nearly: a summary of blocks finds what is not sealed yet.
CREATE INDEX ON ledger.line USING brin (transaction) WITH (pages_per_range = 16);

-- What a line's hash is taken of: its parts, each after a separator that none of them holds (JSON writes control
-- characters as escapes; verification names a line whose account, place or record has one). The same text is made by
-- core/history/chain.ts, which verification uses, so that replacing this function hides nothing.
CREATE FUNCTION ledger.head_of(at timestamptz, account text, through text, transaction bigint, place text) RETURNS text LANGUAGE sql IMMUTABLE AS $$
  SELECT (extract(epoch FROM at) * 1000000)::bigint::text || E'\x1f' || account || E'\x1f' || coalesce(through, '') || E'\x1f' || transaction::text || E'\x1f' || place || E'\x1f'
$$;
CREATE FUNCTION ledger.hash_of(head text, previous bytea, record text, version integer, kind text, before text, after text) RETURNS bytea LANGUAGE sql STABLE AS $$
  SELECT sha256(convert_to(head || coalesce(encode(previous, 'hex'), '') || E'\x1f' || record || E'\x1f' || coalesce(version::text, '') || E'\x1f'
    || kind || E'\x1f' || coalesce(before, '') || E'\x1f' || coalesce(after, ''), 'UTF8'))
$$;

DO $$
DECLARE
  one record;
  place text;
  record text;
  last bytea;
BEGIN
  ALTER TABLE ledger.line DISABLE TRIGGER refuse_alteration;
  FOR one IN SELECT * FROM ledger.line l ORDER BY l.place, l.record, l.id LOOP
    IF one.place IS DISTINCT FROM place OR one.record IS DISTINCT FROM record THEN last := NULL; END IF;
    place := one.place;
    record := one.record;
    UPDATE ledger.line l SET previous = last, hash = ledger.hash_of(ledger.head_of(l.at, l.account, l.through::text, l.transaction, l.place), last, l.record, l.version, l.kind, l.before::text, l.after::text)
    WHERE l.id = one.id AND l.at = one.at RETURNING l.hash INTO last;
  END LOOP;
  ALTER TABLE ledger.line ENABLE TRIGGER refuse_alteration;
END $$;
ALTER TABLE ledger.line ALTER COLUMN hash SET NOT NULL;

-- ---------------------------------------------------------------------------------------------- who and when, quicker

-- Without a search path of their own: setting one costs more than all they do. What they call is found in pg_catalog
-- first, and nobody but the owner can make functions where names are looked up.
CREATE OR REPLACE FUNCTION fiche.actor() RETURNS text LANGUAGE plpgsql STABLE AS $$
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
ALTER FUNCTION fiche.actor() RESET search_path;
CREATE OR REPLACE FUNCTION fiche.moment() RETURNS timestamptz LANGUAGE sql STABLE AS $$
  SELECT coalesce(CASE WHEN session_user = '{owner}' THEN nullif(current_setting('fiche.at', true), '')::timestamptz END, now())
$$;
ALTER FUNCTION fiche.moment() RESET search_path;

-- True while the owner moves values from one column to another without any of them changing for a reader, as when a
-- field gets another type: no stamp and no line, and the definition's own line says what was done.
CREATE FUNCTION fiche.rebuilding() RETURNS boolean LANGUAGE sql STABLE AS $$
  SELECT session_user = '{owner}' AND coalesce(current_setting('fiche.rebuilding', true), '') = 'yes'
$$;

-- Stamps the audit fields and raises the version, on every path; whatever was written into them is overwritten. A
-- change that changes nothing is no change: so a record's version is the number of its lines.
CREATE OR REPLACE FUNCTION fiche.stamp() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  said text := current_setting('fiche.actor', true);
BEGIN
  IF session_user NOT IN ('{app}', '{owner}') OR coalesce(said, '') = '' THEN
    said := fiche.actor();
  END IF;
  IF TG_OP = 'INSERT' THEN
    NEW.version := 1;
    NEW.created_at := fiche.moment();
    NEW.created_by := said;
    NEW.changed_at := NEW.created_at;
    NEW.changed_by := said;
    RETURN NEW;
  END IF;
  NEW.id := OLD.id;
  NEW.version := OLD.version;
  NEW.created_at := OLD.created_at;
  NEW.created_by := OLD.created_by;
  NEW.changed_at := OLD.changed_at;
  NEW.changed_by := OLD.changed_by;
  IF NEW IS NOT DISTINCT FROM OLD THEN RETURN NULL; END IF;
  IF fiche.rebuilding() THEN RETURN NEW; END IF;
  NEW.version := OLD.version + 1;
  NEW.changed_at := fiche.moment();
  NEW.changed_by := said;
  RETURN NEW;
END $$;
ALTER FUNCTION fiche.stamp() RESET search_path;

-- ---------------------------------------------------------------------------------------------- capture of definitions

-- Any table, by any key, one line a row: definitions change seldom.
CREATE OR REPLACE FUNCTION ledger.write(place text, record text, version integer, kind text, before json, after json)
RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  last bytea := (SELECT l.hash FROM ledger.line l WHERE l.place = write.place AND l.record = write.record ORDER BY l.id DESC LIMIT 1);
  who text := fiche.actor();
  moment timestamptz := fiche.moment();
  through json := fiche.through()::json;
BEGIN
  INSERT INTO ledger.line (at, account, through, transaction, place, record, version, kind, before, after, previous, hash)
  VALUES (moment, who, through, txid_current(), place, record, version, kind, before, after, last,
    ledger.hash_of(ledger.head_of(moment, who, through::text, txid_current(), place), last, record, version, kind, before::text, after::text));
END $$;
REVOKE ALL ON FUNCTION ledger.write(text, text, integer, text, json, json) FROM PUBLIC;

CREATE OR REPLACE FUNCTION ledger.capture_added() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog AS $$
BEGIN
  PERFORM ledger.write(TG_TABLE_SCHEMA || '.' || TG_TABLE_NAME, ledger.key_of(r.entry, TG_ARGV[0]), NULL, 'add', NULL,
    jsonb_strip_nulls(r.entry - string_to_array(TG_ARGV[1], ','))::json)
  FROM (SELECT to_jsonb(n) AS entry FROM after_rows n) r;
  RETURN NULL;
END $$;

CREATE OR REPLACE FUNCTION ledger.capture_changed() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog AS $$
BEGIN
  PERFORM ledger.write(TG_TABLE_SCHEMA || '.' || TG_TABLE_NAME, p.key, NULL, 'change', d.before::json, d.after::json)
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

CREATE OR REPLACE FUNCTION ledger.capture_erased() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog AS $$
BEGIN
  PERFORM ledger.write(TG_TABLE_SCHEMA || '.' || TG_TABLE_NAME, ledger.key_of(r.entry, TG_ARGV[0]), NULL, 'erase',
    jsonb_strip_nulls(r.entry - string_to_array(TG_ARGV[1], ','))::json, NULL)
  FROM (SELECT to_jsonb(o) AS entry FROM before_rows o) r;
  RETURN NULL;
END $$;

-- ---------------------------------------------------------------------------------------------- capture of records

-- Writes out the three capture functions of one record table, and puts them in place. To be called again whenever the
-- table gets or loses a column; until then, writing to it is refused rather than half captured. An erased record
-- leaves a line that names the fields that held something, and not what they held.
CREATE FUNCTION ledger.capture_records(name text) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  place text := 'data.' || name;
  here regclass := format('data.%I', name)::regclass;
  function_name text := 'of_' || here::oid;
  columns text[] := ARRAY(
    SELECT attname::text FROM pg_attribute WHERE attrelid = here AND attnum > 0 AND NOT attisdropped
      AND attname NOT IN ('id', 'version', 'created_at', 'created_by', 'changed_at', 'changed_by') ORDER BY attnum);
  width integer := (SELECT relnatts FROM pg_class WHERE oid = here);
  after text;
  before_changed text;
  after_changed text;
  named text;
  head text;
  line text := 'INSERT INTO ledger.line (at, account, through, transaction, place, record, version, kind, before, after, previous, hash)
    SELECT moment, who, through, tx, here, r.record, r.version, r.kind, r.before, r.after, r.previous,
      ledger.hash_of(head, r.previous, r.record, r.version, r.kind, r.before::text, r.after::text) FROM';
  changed text;
BEGIN
  -- A function takes at most 100 arguments: wide tables are put together from several objects.
  SELECT ledger.object_of(array_agg(format('%L, n.%I', c, c))), ledger.object_of(array_agg(format('%L, CASE WHEN o.%I IS DISTINCT FROM n.%I THEN o.%I END', c, c, c, c))),
    ledger.object_of(array_agg(format('%L, CASE WHEN o.%I IS DISTINCT FROM n.%I THEN n.%I END', c, c, c, c))),
    ledger.object_of(array_agg(format('%L, CASE WHEN o.%I IS NOT NULL THEN '''' END', c, c)))
  INTO after, before_changed, after_changed, named FROM unnest(columns) c;
  head := format($f$
    DECLARE
      who text := fiche.actor();
      moment timestamptz := fiche.moment();
      through json := fiche.through()::json;
      tx bigint := txid_current();
      here text := %L;
      head text := ledger.head_of(moment, who, through::text, tx, here);
      old_at timestamptz;
      old_record text;
      old_version integer;
      last bytea;
      low timestamptz;
      high timestamptz;
    BEGIN
      IF (SELECT relnatts FROM pg_class WHERE oid = TG_RELID) <> %s THEN
        RAISE EXCEPTION 'data.%s has got another column than its capture knows: SELECT ledger.capture_records(%%)', quote_literal(%L);
      END IF;$f$, place, width, name, name);
  changed := 'SELECT n.id::text AS record, n.version,
      CASE WHEN o.archived_at IS NULL AND n.archived_at IS NOT NULL THEN ''archive'' WHEN o.archived_at IS NOT NULL AND n.archived_at IS NULL THEN ''restore'' ELSE ''change'' END AS kind,
      json_strip_nulls(' || before_changed || ') AS before, json_strip_nulls(' || after_changed || ') AS after, %s AS previous
      FROM before_rows o JOIN after_rows n ON n.id = o.id WHERE %s OFFSET 0';
  EXECUTE format('CREATE OR REPLACE FUNCTION ledger.%I() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog AS %L', function_name || '_added',
    head || line || ' (SELECT n.id::text AS record, n.version, ''add'' AS kind, NULL::json AS before, json_strip_nulls(' || after || ') AS after, NULL::bytea AS previous FROM after_rows n OFFSET 0) r;
      RETURN NULL;
    END');
  -- The record's line before this one has the moment of its last change: so only that month is looked at, for one record
  -- and, month by month, for many. A plan made for few rows must not loop over many.
  EXECUTE format('CREATE OR REPLACE FUNCTION ledger.%I() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog SET enable_nestloop = off AS %L', function_name || '_changed',
    head || 'IF fiche.rebuilding() THEN RETURN NULL; END IF;
      IF (SELECT count(*) FROM (SELECT FROM before_rows LIMIT 2) few) = 1 THEN
        SELECT changed_at, id::text, version INTO old_at, old_record, old_version FROM before_rows;
        last := (SELECT l.hash FROM ledger.line l WHERE l.at = old_at AND l.place = here AND l.record = old_record AND l.version = old_version);
        ' || line || ' (' || format(changed, 'last', 'true') || ') r;
      ELSE
        FOR low IN SELECT DISTINCT date_trunc(''month'', changed_at, ''UTC'') FROM before_rows LOOP
          high := low + interval ''31 days'';
          ' || line || ' (' || format(changed, '(SELECT l.hash FROM ledger.line l WHERE l.at = o.changed_at AND l.at >= low AND l.at < high AND l.place = here AND l.record = o.id::text AND l.version = o.version)',
            'date_trunc(''month'', o.changed_at, ''UTC'') = low') || ') r;
        END LOOP;
      END IF;
      RETURN NULL;
    END');
  EXECUTE format('CREATE OR REPLACE FUNCTION ledger.%I() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog AS %L', function_name || '_erased',
    head || line || ' (SELECT o.id::text AS record, o.version + 1 AS version, ''erase'' AS kind, json_strip_nulls(' || named || ') AS before, NULL::json AS after,
        (SELECT l.hash FROM ledger.line l WHERE l.at = o.changed_at AND l.place = here AND l.record = o.id::text AND l.version = o.version) AS previous FROM before_rows o OFFSET 0) r;
      RETURN NULL;
    END');
  EXECUTE format('CREATE OR REPLACE TRIGGER capture_added AFTER INSERT ON %s REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION ledger.%I()', here, function_name || '_added');
  EXECUTE format('CREATE OR REPLACE TRIGGER capture_changed AFTER UPDATE ON %s REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION ledger.%I()', here, function_name || '_changed');
  EXECUTE format('CREATE OR REPLACE TRIGGER capture_erased AFTER DELETE ON %s REFERENCING OLD TABLE AS before_rows FOR EACH STATEMENT EXECUTE FUNCTION ledger.%I()', here, function_name || '_erased');
END $$;

-- SQL that builds one JSON object out of any number of `name, value` pairs.
CREATE FUNCTION ledger.object_of(pairs text[]) RETURNS text LANGUAGE sql IMMUTABLE AS $$
  SELECT CASE WHEN cardinality(pairs) <= 45 THEN 'json_build_object(' || array_to_string(pairs, ', ') || ')'
    ELSE (SELECT '(' || string_agg('jsonb_build_object(' || part || ')', ' || ' ORDER BY n) || ')::json'
      FROM (SELECT (i - 1) / 45 AS n, string_agg(pair, ', ' ORDER BY i) AS part FROM unnest(pairs) WITH ORDINALITY AS t(pair, i) GROUP BY 1) parts) END
$$;

-- TRUNCATE has no rows to capture, so it is refused.
CREATE FUNCTION fiche.refuse_truncation() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  RAISE EXCEPTION 'Records are archived or erased one by one, so that the ledger has their lines: truncate is refused' USING ERRCODE = 'insufficient_privilege';
END $$;

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
  PERFORM ledger.capture_records(name);
  EXECUTE format('GRANT SELECT, UPDATE (archived_at) ON data.%I TO {app}', name);
END $$;

DO $$
DECLARE
  name text;
BEGIN
  FOR name IN SELECT id FROM fiche."table" LOOP
    PERFORM ledger.capture_records(name);
    EXECUTE format('CREATE TRIGGER refuse_truncation BEFORE TRUNCATE ON data.%I FOR EACH STATEMENT EXECUTE FUNCTION fiche.refuse_truncation()', name);
  END LOOP;
END $$;

-- ---------------------------------------------------------------------------------------------- seals

-- A seal covers all lines of the transactions from one number up to another, which were over when it was made: so
-- no line can come in late. Its root is the hash of their hashes in order; seals are chained.
CREATE TABLE ledger.seal (
  number bigint PRIMARY KEY,
  at timestamptz NOT NULL,
  from_transaction bigint NOT NULL,
  to_transaction bigint NOT NULL,
  lines bigint NOT NULL,
  root bytea NOT NULL,
  previous bytea,
  hash bytea NOT NULL
);
CREATE TRIGGER refuse_alteration BEFORE UPDATE OR DELETE ON ledger.seal FOR EACH ROW EXECUTE FUNCTION ledger.refuse();
CREATE TRIGGER refuse_truncation BEFORE TRUNCATE ON ledger.seal FOR EACH STATEMENT EXECUTE FUNCTION ledger.refuse();

-- Seals what is over and not sealed yet, once it is `most` lines or the oldest of it has waited `longest`. Returns how
-- many lines were sealed. Servers take turns.
CREATE FUNCTION ledger.make_seal(most bigint, longest interval) RETURNS bigint LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog AS $$
DECLARE
  last ledger.seal;
  horizon bigint;
  found record;
  moment timestamptz := date_trunc('microseconds', clock_timestamp());
BEGIN
  IF NOT pg_try_advisory_xact_lock(4207850) THEN RETURN 0; END IF;
  SELECT * INTO last FROM ledger.seal ORDER BY number DESC LIMIT 1;
  horizon := pg_snapshot_xmin(pg_current_snapshot())::text::bigint;
  SELECT count(*) AS lines, string_agg(l.hash, ''::bytea ORDER BY l.transaction, l.id) AS hashes INTO found
  FROM ledger.line l WHERE l.transaction >= coalesce(last.to_transaction, 0) AND l.transaction < horizon;
  IF found.lines = 0 OR (found.lines < most AND last.at IS NOT NULL AND last.at > clock_timestamp() - longest) THEN RETURN 0; END IF;
  INSERT INTO ledger.seal (number, at, from_transaction, to_transaction, lines, root, previous, hash)
  SELECT s.number, moment, s.first, horizon, found.lines, s.root, last.hash,
    sha256(convert_to(coalesce(encode(last.hash, 'hex'), '') || E'\x1f' || s.number || E'\x1f' || (extract(epoch FROM moment) * 1000000)::bigint || E'\x1f'
      || s.first || E'\x1f' || horizon || E'\x1f' || found.lines || E'\x1f' || encode(s.root, 'hex'), 'UTF8'))
  FROM (SELECT coalesce(last.number, 0) + 1 AS number, coalesce(last.to_transaction, 0) AS first, sha256(found.hashes) AS root) s;
  RETURN found.lines;
END $$;
REVOKE ALL ON FUNCTION ledger.make_seal(bigint, interval), ledger.capture_records(text) FROM PUBLIC;
GRANT EXECUTE ON FUNCTION ledger.make_seal(bigint, interval) TO {app};
GRANT SELECT ON ledger.seal TO {app};

-- Partitions are made months ahead by any running server, not only by one that starts.
ALTER FUNCTION ledger.make_partitions(date, date) SECURITY DEFINER SET search_path = pg_catalog;
GRANT EXECUTE ON FUNCTION ledger.make_partitions(date, date) TO {app};

UPDATE fiche.role SET rights = rights || '{erase}' WHERE 'build' = ANY(rights) AND NOT 'erase' = ANY(rights);
