-- The ledger as evidence: values can be erased and the chain still holds, everything that counts is captured, and the
-- application's role can reach nothing beyond its rows.

-- ---------------------------------------------------------------------------------------------- what the application may run and read

-- Nobody runs a function of ours, or makes a temporary object in whose name one could be misled, unless it is granted.
ALTER DEFAULT PRIVILEGES REVOKE EXECUTE ON FUNCTIONS FROM PUBLIC;
REVOKE ALL ON ALL FUNCTIONS IN SCHEMA fiche, ledger FROM PUBLIC, {app};
REVOKE CREATE ON SCHEMA public FROM PUBLIC;

-- ---------------------------------------------------------------------------------------------- lines whose values can be erased

-- A line's hash covers a salted digest of its values. The values and the salt stand beside it and can be removed: what
-- is left tells that something was written, when and by whom, and nothing of what it was. A line without a digest is
-- of an older version: its hash covers the values themselves.
ALTER TABLE ledger.line
  -- What people said to the rules that asked: removed with the values.
  ADD COLUMN reasons json,
  ADD COLUMN salt bytea,
  ADD COLUMN digest bytea;

CREATE FUNCTION ledger.digest_of(salt bytea, before text, after text, reasons text) RETURNS bytea LANGUAGE sql IMMUTABLE AS $$
  SELECT sha256(convert_to(encode(salt, 'hex') || E'\x1f' || coalesce(before, '') || E'\x1f' || coalesce(after, '') || E'\x1f' || coalesce(reasons, ''), 'UTF8'))
$$;
CREATE FUNCTION ledger.hash_of(head text, previous bytea, record text, version integer, kind text, digest bytea) RETURNS bytea LANGUAGE sql STABLE AS $$
  SELECT sha256(convert_to(head || coalesce(encode(previous, 'hex'), '') || E'\x1f' || record || E'\x1f' || coalesce(version::text, '') || E'\x1f'
    || kind || E'\x1f' || encode(digest, 'hex'), 'UTF8'))
$$;

-- Through what the transaction writes. A moment of the past, which only the owner can give, is marked as such.
CREATE OR REPLACE FUNCTION fiche.through() RETURNS jsonb LANGUAGE sql STABLE AS $$
  SELECT CASE WHEN session_user IN ('{app}', '{owner}') THEN nullif(current_setting('fiche.through', true), '')::jsonb END
    || CASE WHEN session_user = '{owner}' AND coalesce(current_setting('fiche.at', true), '') <> '' THEN '{"backdated": true}'::jsonb ELSE '{}'::jsonb END
$$;
ALTER FUNCTION fiche.through() RESET search_path;

-- A line is never altered. The owner alone can remove the values of a record that is being erased.
CREATE FUNCTION ledger.refuse_line() RETURNS trigger LANGUAGE plpgsql SET search_path = pg_catalog, pg_temp AS $$
BEGIN
  IF TG_OP = 'UPDATE' AND session_user = '{owner}' AND current_setting('fiche.erasing', true) = OLD.place || '/' || OLD.record
    AND NEW.before IS NULL AND NEW.after IS NULL AND NEW.reasons IS NULL AND NEW.salt IS NULL
    AND to_jsonb(NEW) - '{before,after,reasons,salt}'::text[] = to_jsonb(OLD) - '{before,after,reasons,salt}'::text[] THEN
    RETURN NEW;
  END IF;
  RAISE EXCEPTION 'The ledger cannot be altered: % is refused', lower(TG_OP) USING ERRCODE = 'insufficient_privilege';
END $$;
DROP TRIGGER refuse_alteration ON ledger.line;
CREATE TRIGGER refuse_alteration BEFORE UPDATE OR DELETE ON ledger.line FOR EACH ROW EXECUTE FUNCTION ledger.refuse_line();
ALTER FUNCTION ledger.refuse() SET search_path = pg_catalog, pg_temp;

-- ---------------------------------------------------------------------------------------------- capture of definitions

CREATE OR REPLACE FUNCTION ledger.write(place text, record text, version integer, kind text, before json, after json)
RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  last bytea := (SELECT l.hash FROM ledger.line l WHERE l.place = write.place AND l.record = write.record ORDER BY l.id DESC LIMIT 1);
  who text := fiche.actor();
  moment timestamptz := fiche.moment();
  said jsonb := fiche.through();
  through json := (said - 'reasons')::json;
  reasons json := (said->'reasons')::json;
  salt bytea := uuid_send(gen_random_uuid());
  digest bytea := ledger.digest_of(salt, before::text, after::text, reasons::text);
BEGIN
  INSERT INTO ledger.line (at, account, through, transaction, place, record, version, kind, before, after, reasons, salt, digest, previous, hash)
  VALUES (moment, who, through, txid_current(), place, record, version, kind, before, after, reasons, salt, digest, last,
    ledger.hash_of(ledger.head_of(moment, who, through::text, txid_current(), place), last, record, version, kind, digest));
END $$;

-- What a line says of a row: without the columns that are never written down, of secrets their SHA-256, no blanks.
CREATE FUNCTION ledger.captured(entry jsonb, unwritten text, hashed text) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
  SELECT jsonb_strip_nulls(entry - string_to_array(unwritten, ',')
    || coalesce((SELECT jsonb_object_agg(name, encode(sha256(convert_to(entry->>name, 'UTF8')), 'hex')) FROM unnest(string_to_array(nullif(hashed, ''), ',')) AS t(name)
         WHERE entry->>name IS NOT NULL), '{}'))
$$;

DROP FUNCTION ledger.watch(regclass, text, text);

-- The arguments of these three: the key columns, those never written down, those written as their SHA-256, and a column
-- without which a row does not count yet.
CREATE OR REPLACE FUNCTION ledger.capture_added() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, pg_temp AS $$
BEGIN
  PERFORM ledger.write(TG_TABLE_SCHEMA || '.' || TG_TABLE_NAME, ledger.key_of(r.entry, TG_ARGV[0]), NULL, 'add', NULL,
    ledger.captured(r.entry, TG_ARGV[1], TG_ARGV[2])::json)
  FROM (SELECT to_jsonb(n) AS entry FROM after_rows n) r WHERE TG_ARGV[3] = '' OR r.entry->>TG_ARGV[3] IS NOT NULL;
  RETURN NULL;
END $$;

CREATE OR REPLACE FUNCTION ledger.capture_changed() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, pg_temp AS $$
BEGIN
  PERFORM ledger.write(TG_TABLE_SCHEMA || '.' || TG_TABLE_NAME, p.key, NULL, CASE WHEN p.old IS NULL THEN 'add' ELSE 'change' END, d.before::json, d.after::json)
  FROM (
    SELECT o.key, CASE WHEN TG_ARGV[3] = '' OR o.entry->>TG_ARGV[3] IS NOT NULL THEN ledger.captured(o.entry, TG_ARGV[1], TG_ARGV[2]) END AS old,
      ledger.captured(n.entry, TG_ARGV[1], TG_ARGV[2]) AS new
    FROM (SELECT ledger.key_of(to_jsonb(x), TG_ARGV[0]) AS key, to_jsonb(x) AS entry FROM before_rows x) o
    JOIN (SELECT ledger.key_of(to_jsonb(x), TG_ARGV[0]) AS key, to_jsonb(x) AS entry FROM after_rows x) n USING (key)
    WHERE TG_ARGV[3] = '' OR n.entry->>TG_ARGV[3] IS NOT NULL
  ) p
  CROSS JOIN LATERAL (
    SELECT jsonb_object_agg(name, p.old->name) FILTER (WHERE p.old ? name) AS before, coalesce(jsonb_object_agg(name, p.new->name) FILTER (WHERE p.new ? name), '{}') AS after, count(*) AS n
    FROM (SELECT jsonb_object_keys(coalesce(p.old, '{}') || p.new) AS name) names WHERE p.old->name IS DISTINCT FROM p.new->name
  ) d
  WHERE d.n > 0;
  RETURN NULL;
END $$;

CREATE OR REPLACE FUNCTION ledger.capture_erased() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, pg_temp AS $$
BEGIN
  PERFORM ledger.write(TG_TABLE_SCHEMA || '.' || TG_TABLE_NAME, ledger.key_of(r.entry, TG_ARGV[0]), NULL, 'erase',
    ledger.captured(r.entry, TG_ARGV[1], TG_ARGV[2])::json, NULL)
  FROM (SELECT to_jsonb(o) AS entry FROM before_rows o) r WHERE TG_ARGV[3] = '' OR r.entry->>TG_ARGV[3] IS NOT NULL;
  RETURN NULL;
END $$;

-- The same as capture_added for rows whose key never comes again, so that no line can stand before theirs: one pass.
CREATE FUNCTION ledger.capture_new() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, pg_temp AS $$
DECLARE
  who text;
  moment timestamptz := fiche.moment();
  said jsonb := fiche.through();
  through json := (said - 'reasons')::json;
  here text := TG_TABLE_SCHEMA || '.' || TG_TABLE_NAME;
  head text;
BEGIN
  IF NOT EXISTS (SELECT FROM after_rows n WHERE TG_ARGV[3] = '' OR to_jsonb(n)->>TG_ARGV[3] IS NOT NULL) THEN RETURN NULL; END IF;
  who := fiche.actor();
  head := ledger.head_of(moment, who, through::text, txid_current(), here);
  INSERT INTO ledger.line (at, account, through, transaction, place, record, kind, after, salt, digest, hash)
  SELECT moment, who, through, txid_current(), here, d.record, 'add', d.after, d.salt, d.digest, ledger.hash_of(head, NULL, d.record, NULL, 'add', d.digest)
  FROM (SELECT r.*, ledger.digest_of(r.salt, NULL, r.after::text, NULL) AS digest FROM (
    SELECT ledger.key_of(to_jsonb(n), TG_ARGV[0]) AS record, ledger.captured(to_jsonb(n), TG_ARGV[1], TG_ARGV[2])::json AS after, uuid_send(gen_random_uuid()) AS salt
    FROM after_rows n WHERE TG_ARGV[3] = '' OR to_jsonb(n)->>TG_ARGV[3] IS NOT NULL OFFSET 0) r OFFSET 0) d;
  RETURN NULL;
END $$;

-- Puts a table under capture, in place of what captured it before.
CREATE FUNCTION ledger.watch(place regclass, keys text, unwritten text, hashed text DEFAULT '', counts_with text DEFAULT '', added text DEFAULT 'capture_added') RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  arguments text := format('(%L, %L, %L, %L)', keys, unwritten, hashed, counts_with);
BEGIN
  EXECUTE format('CREATE OR REPLACE TRIGGER capture_added AFTER INSERT ON %s REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION ledger.%I%s', place, added, arguments);
  EXECUTE format('CREATE OR REPLACE TRIGGER capture_changed AFTER UPDATE ON %s REFERENCING OLD TABLE AS before_rows NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION ledger.capture_changed%s', place, arguments);
  EXECUTE format('CREATE OR REPLACE TRIGGER capture_erased AFTER DELETE ON %s REFERENCING OLD TABLE AS before_rows FOR EACH STATEMENT EXECUTE FUNCTION ledger.capture_erased%s', place, arguments);
  IF NOT EXISTS (SELECT FROM pg_trigger WHERE tgrelid = place AND tgname = 'refuse_truncation') THEN
    EXECUTE format('CREATE TRIGGER refuse_truncation BEFORE TRUNCATE ON %s FOR EACH STATEMENT EXECUTE FUNCTION fiche.refuse_truncation()', place);
  END IF;
END $$;

-- A file says by its hash which bytes it has; it counts once a save has named it.
ALTER TABLE fiche.file ADD COLUMN sha256 text;
UPDATE fiche.file f SET sha256 = c.sha256 FROM fiche.content c WHERE c.id = f.content;

SELECT ledger.watch('fiche.cabinet', 'id', 'id,revision');
SELECT ledger.watch('fiche."table"', 'id', 'id,position,revision');
SELECT ledger.watch('fiche.field', 'table_id,id', 'table_id,id,position,pending');
SELECT ledger.watch('fiche.form', 'id', 'id,position,draft,draft_revision');
SELECT ledger.watch('fiche.form_version', 'form_id,number', 'form_id,number', '', '', 'capture_new');
SELECT ledger.watch('fiche.role', 'id', 'id');
SELECT ledger.watch('fiche.account', 'login', 'login', 'password_hash');
SELECT ledger.watch('fiche.membership', 'login,cabinet', 'login,cabinet');
SELECT ledger.watch('fiche.import', 'id', 'id,plan,at,account,state');
SELECT ledger.watch('fiche.origin', 'table_id,record', 'table_id,record', '', '', 'capture_new');
SELECT ledger.watch('fiche.file', 'id', 'id,content,sent_at,claimed_at', '', 'claimed_at');

-- ---------------------------------------------------------------------------------------------- capture of records

-- The body of one of the three capture functions of a record table (`added`, `changed`, `erased`), from the columns that
-- the table has now: what verification expects to find. A column that is being filled to take the place of another
-- (its comment says which) is captured under that one's name. An erased record leaves a line that names the fields
-- that held something, and not what they held.
CREATE FUNCTION ledger.capture_body(name text, kind text) RETURNS text LANGUAGE plpgsql STABLE SET search_path = pg_catalog, pg_temp AS $body$
DECLARE
  place text := 'data.' || name;
  here regclass := format('data.%I', name)::regclass;
  width integer := (SELECT relnatts FROM pg_class WHERE oid = here);
  after text;
  before_changed text;
  after_changed text;
  named text;
  head text;
  line text := 'INSERT INTO ledger.line (at, account, through, transaction, place, record, version, kind, before, after, reasons, salt, digest, previous, hash)
    SELECT moment, who, through, tx, here, d.record, d.version, d.kind, d.before, d.after, reasons, d.salt, d.digest, d.previous,
      ledger.hash_of(head, d.previous, d.record, d.version, d.kind, d.digest)
    FROM (SELECT r.*, ledger.digest_of(r.salt, r.before::text, r.after::text, reasons::text) AS digest FROM ';
  changed text;
BEGIN
  WITH converting AS (
    SELECT a.attnum AS n, a.attname::text AS next, substr(d.description, 10) AS name
    FROM pg_description d JOIN pg_attribute a ON a.attrelid = here AND a.attnum = d.objsubid AND NOT a.attisdropped
    WHERE d.classoid = 'pg_class'::regclass AND d.objoid = here AND d.description LIKE 'converts %'
  ), columns AS (
    SELECT a.attname::text AS name, a.attnum AS n, c.next
    FROM pg_attribute a LEFT JOIN converting c ON c.name = a.attname WHERE a.attrelid = here AND a.attnum > 0 AND NOT a.attisdropped
      AND a.attname NOT IN ('id', 'version', 'created_at', 'created_by', 'changed_at', 'changed_by')
      AND a.attnum NOT IN (SELECT n FROM converting)
  ), written AS (
    SELECT n, format('%L, n.%I', c.name, c.name) AS after,
      CASE WHEN next IS NULL THEN format('%L, CASE WHEN o.%I IS DISTINCT FROM n.%I THEN o.%I END', c.name, c.name, c.name, c.name)
        ELSE format('%1$L, CASE WHEN o.%3$I IS DISTINCT FROM n.%3$I THEN CASE WHEN n.%3$I IS NULL THEN to_json(o.%3$I) ELSE to_json(o.%2$I) END WHEN o.%2$I IS DISTINCT FROM n.%2$I THEN to_json(o.%2$I) END', c.name, c.name, next) END AS before_changed,
      CASE WHEN next IS NULL THEN format('%L, CASE WHEN o.%I IS DISTINCT FROM n.%I THEN n.%I END', c.name, c.name, c.name, c.name)
        ELSE format('%1$L, CASE WHEN o.%3$I IS DISTINCT FROM n.%3$I THEN CASE WHEN n.%3$I IS NULL THEN to_json(n.%2$I) ELSE to_json(n.%3$I) END WHEN o.%2$I IS DISTINCT FROM n.%2$I THEN to_json(n.%2$I) END', c.name, c.name, next) END AS after_changed,
      format('%L, CASE WHEN o.%I IS NOT NULL THEN '''' END', c.name, c.name) AS named
    FROM columns c
  )
  -- A function takes at most 100 arguments: wide tables are put together from several objects.
  SELECT ledger.object_of(array_agg(w.after ORDER BY n)), ledger.object_of(array_agg(w.before_changed ORDER BY n)),
    ledger.object_of(array_agg(w.after_changed ORDER BY n)), ledger.object_of(array_agg(w.named ORDER BY n))
  INTO after, before_changed, after_changed, named FROM written w;
  head := format($f$
    DECLARE
      who text := fiche.actor();
      moment timestamptz := fiche.moment();
      said jsonb := fiche.through();
      through json := (said - 'reasons')::json;
      reasons json := (said->'reasons')::json;
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
  IF kind = 'added' THEN
    RETURN head || line || '(SELECT n.id::text AS record, n.version, ''add'' AS kind, NULL::json AS before, json_strip_nulls(' || after || ') AS after,
        NULL::bytea AS previous, uuid_send(gen_random_uuid()) AS salt FROM after_rows n OFFSET 0) r OFFSET 0) d;
      RETURN NULL;
    END';
  ELSIF kind = 'erased' THEN
    RETURN head || line || '(SELECT o.id::text AS record, o.version + 1 AS version, ''erase'' AS kind, json_strip_nulls(' || named || ') AS before, NULL::json AS after,
        (SELECT l.hash FROM ledger.line l WHERE l.at = o.changed_at AND l.place = here AND l.record = o.id::text AND l.version = o.version) AS previous,
        uuid_send(gen_random_uuid()) AS salt FROM before_rows o OFFSET 0) r OFFSET 0) d;
      RETURN NULL;
    END';
  END IF;
  changed := '(SELECT n.id::text AS record, n.version,
      CASE WHEN o.archived_at IS NULL AND n.archived_at IS NOT NULL THEN ''archive'' WHEN o.archived_at IS NOT NULL AND n.archived_at IS NULL THEN ''restore'' ELSE ''change'' END AS kind,
      json_strip_nulls(' || before_changed || ') AS before, json_strip_nulls(' || after_changed || ') AS after, %s AS previous, uuid_send(gen_random_uuid()) AS salt
      FROM before_rows o JOIN after_rows n ON n.id = o.id WHERE %s OFFSET 0) r OFFSET 0) d;';
  -- The record's line before this one has the moment of its last change: so only that month is looked at, for one record
  -- and, month by month, for many. A plan made for few rows must not loop over many.
  RETURN head || 'IF fiche.rebuilding() THEN RETURN NULL; END IF;
      IF (SELECT count(*) FROM (SELECT FROM before_rows LIMIT 2) few) = 1 THEN
        SELECT changed_at, id::text, version INTO old_at, old_record, old_version FROM before_rows;
        last := (SELECT l.hash FROM ledger.line l WHERE l.at = old_at AND l.place = here AND l.record = old_record AND l.version = old_version);
        ' || line || format(changed, 'last', 'true') || '
      ELSE
        FOR low IN SELECT DISTINCT date_trunc(''month'', changed_at, ''UTC'') FROM before_rows LOOP
          high := low + interval ''31 days'';
          ' || line || format(changed, '(SELECT l.hash FROM ledger.line l WHERE l.at = o.changed_at AND l.at >= low AND l.at < high AND l.place = here AND l.record = o.id::text AND l.version = o.version)',
            'date_trunc(''month'', o.changed_at, ''UTC'') = low') || '
        END LOOP;
      END IF;
      RETURN NULL;
    END';
END $body$;

-- Writes out the three capture functions of one record table, and puts them in place. To be called again whenever the
-- table gets or loses a column; until then, writing to it is refused rather than half captured.
CREATE OR REPLACE FUNCTION ledger.capture_records(name text) RETURNS void LANGUAGE plpgsql SET search_path = pg_catalog, pg_temp AS $$
DECLARE
  here regclass := format('data.%I', name)::regclass;
  one record;
BEGIN
  FOR one IN SELECT kind, 'of_' || here::oid || '_' || kind AS name, setting, event, tables FROM (VALUES
      ('added', '', 'INSERT', 'NEW TABLE AS after_rows'),
      ('changed', 'SET enable_nestloop = off', 'UPDATE', 'OLD TABLE AS before_rows NEW TABLE AS after_rows'),
      ('erased', '', 'DELETE', 'OLD TABLE AS before_rows')) AS t(kind, setting, event, tables) LOOP
    EXECUTE format('CREATE OR REPLACE FUNCTION ledger.%I() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, pg_temp %s AS %L',
      one.name, one.setting, ledger.capture_body(capture_records.name, one.kind));
    EXECUTE format('REVOKE ALL ON FUNCTION ledger.%I() FROM PUBLIC', one.name);
    EXECUTE format('CREATE OR REPLACE TRIGGER %I AFTER %s ON %s REFERENCING %s FOR EACH STATEMENT EXECUTE FUNCTION ledger.%I()',
      'capture_' || one.kind, one.event, here, one.tables, one.name);
  END LOOP;
END $$;

DROP FUNCTION ledger.hash_of(text, bytea, text, integer, text, text, text);
DO $$
DECLARE
  one text;
BEGIN
  FOR one IN SELECT id FROM fiche."table" LOOP PERFORM ledger.capture_records(one); END LOOP;
END $$;

-- ---------------------------------------------------------------------------------------------- the functions that run with the owner's rights

ALTER FUNCTION fiche.keep_pairs() SET search_path = pg_catalog, pg_temp;
ALTER FUNCTION fiche.next_number(text, text, boolean, integer, bigint) SET search_path = pg_catalog, pg_temp;
ALTER FUNCTION ledger.make_partitions(date, date) SET search_path = pg_catalog, pg_temp;

-- Seals keep the start of the oldest transaction that was then running: no line sealed later may be older. And the names
-- of the records whose lines they cover, so that a line that was taken out can be told by its record.
ALTER TABLE ledger.seal ADD COLUMN oldest timestamptz, ADD COLUMN records text[];

-- Seals what is over and not sealed yet, once it is `most` lines or the last seal is `longest` old. Returns how many
-- lines were sealed. Servers take turns.
CREATE OR REPLACE FUNCTION ledger.make_seal(most bigint, longest interval) RETURNS bigint LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog, pg_temp AS $$
DECLARE
  last ledger.seal;
  horizon bigint;
  found record;
  first bigint;
  moment timestamptz := date_trunc('microseconds', clock_timestamp());
  -- Read before the horizon. A session says when its transaction began a moment after it did, hence the second.
  running timestamptz := least(moment, (SELECT min(xact_start) FROM pg_stat_activity WHERE datname = current_database() AND pid <> pg_backend_pid())) - interval '1 second';
BEGIN
  IF NOT pg_try_advisory_xact_lock(4207850) THEN RETURN 0; END IF;
  SELECT * INTO last FROM ledger.seal ORDER BY number DESC LIMIT 1;
  first := coalesce(last.to_transaction, 0);
  horizon := pg_snapshot_xmin(pg_current_snapshot())::text::bigint;
  -- Without the right to see when others' transactions began, nothing is claimed that the last seal did not claim.
  IF NOT pg_has_role(current_user, 'pg_read_all_stats', 'USAGE') THEN running := last.oldest; END IF;
  running := date_trunc('microseconds', greatest(running, last.oldest));
  SELECT count(*) AS lines, string_agg(l.hash, ''::bytea ORDER BY l.transaction, l.id) AS hashes, array_agg(DISTINCT l.place || '/' || l.record) AS records INTO found
  FROM ledger.line l WHERE l.transaction >= first AND l.transaction < horizon;
  IF found.lines = 0 OR (found.lines < most AND last.at IS NOT NULL AND last.at > clock_timestamp() - longest) THEN RETURN 0; END IF;
  INSERT INTO ledger.seal (number, at, from_transaction, to_transaction, lines, root, previous, hash, oldest, records)
  SELECT s.number, moment, first, horizon, found.lines, s.root, last.hash,
    sha256(convert_to(coalesce(encode(last.hash, 'hex'), '') || E'\x1f' || s.number || E'\x1f' || (extract(epoch FROM moment) * 1000000)::bigint || E'\x1f'
      || first || E'\x1f' || horizon || E'\x1f' || found.lines || E'\x1f' || encode(s.root, 'hex') || E'\x1f' || coalesce((extract(epoch FROM running) * 1000000)::bigint::text, 'unknown'), 'UTF8')),
    running, found.records
  FROM (SELECT coalesce(last.number, 0) + 1 AS number, sha256(found.hashes) AS root) s;
  RETURN found.lines;
END $$;

-- ---------------------------------------------------------------------------------------------- erasing

-- Removes the values of all lines of one record that has been erased. Lines of an older version, whose hash covers their
-- values, are vouched for by a line that keeps a hash of all the rest of them.
CREATE FUNCTION ledger.erase_values(of_place text, of_record text) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  vouched json := (SELECT json_object_agg(l.id, encode(sha256(convert_to((extract(epoch FROM l.at) * 1000000)::bigint || E'\x1f' || l.account || E'\x1f' || coalesce(l.through::text, '')
      || E'\x1f' || l.transaction || E'\x1f' || coalesce(encode(l.previous, 'hex'), '') || E'\x1f' || coalesce(l.version::text, '') || E'\x1f' || l.kind || E'\x1f' || encode(l.hash, 'hex'), 'UTF8')), 'hex'))
    FROM ledger.line l WHERE l.place = of_place AND l.record = of_record AND l.digest IS NULL AND l.kind <> 'erase');
BEGIN
  IF NOT EXISTS (SELECT FROM ledger.line l WHERE l.place = of_place AND l.record = of_record AND l.kind = 'erase') THEN
    RAISE EXCEPTION 'Only the values of an erased record are removed: % % is not', of_place, of_record;
  END IF;
  IF vouched IS NOT NULL THEN PERFORM ledger.write(of_place, of_record, NULL, 'erase', NULL, vouched); END IF;
  PERFORM set_config('fiche.erasing', of_place || '/' || of_record, true);
  -- An erased record's last line names its fields only; that of anything else holds its values.
  UPDATE ledger.line l SET before = NULL, after = NULL, reasons = NULL, salt = NULL
  WHERE l.place = of_place AND l.record = of_record AND (l.kind <> 'erase' OR (l.place NOT LIKE 'data.%' AND l.before IS NOT NULL));
  PERFORM set_config('fiche.erasing', '', true);
END $$;

-- ---------------------------------------------------------------------------------------------- what the application may read and write

-- Passwords and sessions: asked for and closed by their hash, never read.
REVOKE SELECT ON fiche.account, fiche.session FROM {app};
GRANT SELECT (login, display_name, closed_at) ON fiche.account TO {app};
REVOKE INSERT, UPDATE, DELETE ON fiche.session FROM {app};
CREATE FUNCTION fiche.session_of(hash text) RETURNS TABLE (login text, csrf text) LANGUAGE sql STABLE SECURITY DEFINER SET search_path = pg_catalog, pg_temp AS $$
  SELECT s.login, s.csrf FROM fiche.session s JOIN fiche.account a ON a.login = s.login
  WHERE s.token_hash = hash AND s.expires_at > now() AND a.closed_at IS NULL
$$;
CREATE FUNCTION fiche.close_session(hash text) RETURNS void LANGUAGE sql SECURITY DEFINER SET search_path = pg_catalog, pg_temp AS $$
  DELETE FROM fiche.session WHERE token_hash = hash
$$;

-- Bytes are added while a file arrives and never altered; what is not claimed can be forgotten.
REVOKE ALL ON fiche.content, fiche.content_part, fiche.file FROM {app};
GRANT SELECT, INSERT ON fiche.content, fiche.content_part, fiche.file TO {app};
GRANT UPDATE (sha256, size, kind, thumbnail) ON fiche.content TO {app};
GRANT UPDATE (claimed_at) ON fiche.file TO {app};
CREATE FUNCTION fiche.keep_content() RETURNS trigger LANGUAGE plpgsql SET search_path = pg_catalog, pg_temp AS $$
BEGIN
  IF session_user = '{app}' AND OLD.sha256 IS NOT NULL AND (NEW.sha256, NEW.size, NEW.kind) IS DISTINCT FROM (OLD.sha256, OLD.size, OLD.kind) THEN
    RAISE EXCEPTION 'What is in a file never changes' USING ERRCODE = 'insufficient_privilege';
  END IF;
  RETURN NEW;
END $$;
CREATE TRIGGER keep_content BEFORE UPDATE ON fiche.content FOR EACH ROW EXECUTE FUNCTION fiche.keep_content();
CREATE FUNCTION fiche.keep_parts() RETURNS trigger LANGUAGE plpgsql SET search_path = pg_catalog, pg_temp AS $$
BEGIN
  IF session_user = '{app}' AND EXISTS (SELECT FROM fiche.content c WHERE c.id = NEW.content AND c.sha256 IS NOT NULL) THEN
    RAISE EXCEPTION 'What is in a file never changes' USING ERRCODE = 'insufficient_privilege';
  END IF;
  RETURN NEW;
END $$;
CREATE TRIGGER keep_parts BEFORE INSERT ON fiche.content_part FOR EACH ROW EXECUTE FUNCTION fiche.keep_parts();
CREATE FUNCTION fiche.keep_claim() RETURNS trigger LANGUAGE plpgsql SET search_path = pg_catalog, pg_temp AS $$
BEGIN
  IF session_user = '{app}' AND OLD.claimed_at IS NOT NULL THEN
    RAISE EXCEPTION 'A file that a save has named stays' USING ERRCODE = 'insufficient_privilege';
  END IF;
  RETURN NEW;
END $$;
CREATE TRIGGER keep_claim BEFORE UPDATE ON fiche.file FOR EACH ROW EXECUTE FUNCTION fiche.keep_claim();
-- Forgets a content that nobody names: one that stopped on its way, or a second one with the same bytes.
CREATE FUNCTION fiche.forget_content(content bigint) RETURNS void LANGUAGE sql SECURITY DEFINER SET search_path = pg_catalog, pg_temp AS $$
  DELETE FROM fiche.content c WHERE c.id = content AND c.sha256 IS NULL AND NOT EXISTS (SELECT FROM fiche.file f WHERE f.content = c.id)
$$;

GRANT EXECUTE ON FUNCTION fiche.actor(), fiche.through(), fiche.moment(), fiche.rebuilding(), fiche.next_number(text, text, boolean, integer, bigint),
  fiche.session_of(text), fiche.close_session(text), fiche.forget_content(bigint), ledger.make_seal(bigint, interval), ledger.make_partitions(date, date) TO {app};

-- ---------------------------------------------------------------------------------------------- baseline

-- What is there and its lines do not tell (columns that older versions added or converted without a line, what was not
-- captured) gets a line that says how it stands today.
SELECT set_config('fiche.actor', 'upgrade', true), set_config('fiche.through', '{"kind": "upgrade", "label": "Baseline"}', true);

CREATE FUNCTION pg_temp.told(of_place text) RETURNS TABLE (record text, state jsonb) LANGUAGE sql AS $$
  SELECT t.record, jsonb_object_agg(t.name, t.value) FILTER (WHERE t.name IS NOT NULL AND t.value IS NOT NULL AND t.value <> 'null') FROM (
    SELECT DISTINCT ON (l.record, k.name) l.record, k.name, CASE WHEN l.kind <> 'erase' THEN l.after::jsonb->k.name END AS value
    FROM ledger.line l LEFT JOIN LATERAL (SELECT jsonb_object_keys(coalesce(l.before::jsonb, '{}') || coalesce(l.after::jsonb, '{}')) AS name) k ON true
    WHERE l.place = of_place ORDER BY l.record, k.name, l.id DESC) t
  GROUP BY t.record
$$;
CREATE FUNCTION pg_temp.difference(told jsonb, there jsonb) RETURNS TABLE (before json, after json) LANGUAGE sql AS $$
  SELECT nullif(jsonb_object_agg(name, told->name) FILTER (WHERE told ? name), '{}')::json, coalesce(jsonb_object_agg(name, there->name) FILTER (WHERE there ? name), '{}')::json
  FROM (SELECT jsonb_object_keys(told || there) AS name) n WHERE told->name IS DISTINCT FROM there->name
    AND NOT coalesce(told->>name ~ '^\d{4}-\d\d-\d\dT[\d:.]+[+-]\d\d(:\d\d)?$' AND there->>name ~ '^\d{4}-\d\d-\d\dT[\d:.]+[+-]\d\d(:\d\d)?$' AND (told->>name)::timestamptz = (there->>name)::timestamptz, false)
  HAVING count(*) > 0
$$;

DO $$
DECLARE
  watched record;
  one record;
  id text;
BEGIN
  FOR watched IN SELECT * FROM (VALUES
    ('cabinet', 'id', 'id,revision', '', ''),
    ('table', 'id', 'id,position,revision', '', ''),
    ('field', 'table_id,id', 'table_id,id,position,pending', '', ''),
    ('form', 'id', 'id,position,draft,draft_revision', '', ''),
    ('form_version', 'form_id,number', 'form_id,number', '', ''),
    ('role', 'id', 'id', '', ''),
    ('account', 'login', 'login', 'password_hash', ''),
    ('membership', 'login,cabinet', 'login,cabinet', '', ''),
    ('import', 'id', 'id,plan,at,account,state', '', ''),
    ('origin', 'table_id,record', 'table_id,record', '', ''),
    ('file', 'id', 'id,content,sent_at,claimed_at', '', 'claimed_at')) AS t(name, keys, unwritten, hashed, counts_with)
  LOOP
    FOR one IN EXECUTE format('SELECT r.record, told.record IS NULL OR told.state IS NULL AS new, d.before, d.after
      FROM (SELECT ledger.key_of(to_jsonb(x), $1) AS record, ledger.captured(to_jsonb(x), $2, $3) AS state FROM fiche.%1$I x WHERE $4 = '''' OR to_jsonb(x)->>$4 IS NOT NULL) r
      LEFT JOIN pg_temp.told(%2$L) told ON told.record = r.record
      CROSS JOIN LATERAL pg_temp.difference(coalesce(told.state, ''{}''), r.state) d', watched.name, 'fiche.' || watched.name)
      USING watched.keys, watched.unwritten, watched.hashed, watched.counts_with
    LOOP
      PERFORM ledger.write('fiche.' || watched.name, one.record, NULL, CASE WHEN one.new THEN 'add' ELSE 'change' END, one.before, one.after);
    END LOOP;
  END LOOP;
  FOR id IN SELECT t.id FROM fiche."table" t LOOP
    EXECUTE format('ALTER TABLE data.%I DISABLE TRIGGER USER', id);
    FOR one IN EXECUTE format('SELECT r.id, r.version, d.before, d.after
      FROM data.%1$I r LEFT JOIN pg_temp.told(%2$L) told ON told.record = r.id::text
      CROSS JOIN LATERAL pg_temp.difference(coalesce(told.state, ''{}''),
        jsonb_strip_nulls(to_jsonb(r) - ''{id,version,created_at,created_by,changed_at,changed_by}''::text[])) d', id, 'data.' || id)
    LOOP
      PERFORM ledger.write('data.' || id, one.id::text, one.version + 1, 'change', one.before, one.after);
      EXECUTE format('UPDATE data.%I SET version = version + 1, changed_at = fiche.moment(), changed_by = fiche.actor() WHERE id = $1', id) USING one.id;
    END LOOP;
    EXECUTE format('ALTER TABLE data.%I ENABLE TRIGGER USER', id);
  END LOOP;
END $$;
SELECT set_config('fiche.actor', '', true), set_config('fiche.through', '', true);
