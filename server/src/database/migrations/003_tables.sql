-- Tables in full: rules that the database holds, several links, work on structure in the background, files to bring in.

-- Ranges and equality under one exclusion constraint; words found anywhere in a text.
CREATE EXTENSION IF NOT EXISTS btree_gist;
CREATE EXTENSION IF NOT EXISTS pg_trgm;

ALTER TABLE fiche."table"
  -- `records`, or `list`: an option list, whose records are the allowed combinations of its levels.
  ADD COLUMN kind text NOT NULL DEFAULT 'records' CHECK (kind IN ('records', 'list')),
  -- What the database itself holds over several fields: unique together, no overlap.
  ADD COLUMN constraints jsonb NOT NULL DEFAULT '[]',
  -- Raised with each change of the table: two builders cannot overwrite one another unseen.
  ADD COLUMN revision integer NOT NULL DEFAULT 1;

ALTER TABLE fiche.field
  -- Out of use: its column and history stay, and it can come back.
  ADD COLUMN retired_at timestamptz,
  -- Being made: nobody sees it until its records hold what they shall hold.
  ADD COLUMN pending boolean NOT NULL DEFAULT false;
DROP INDEX fiche.field_table_id_lower_idx;
CREATE UNIQUE INDEX ON fiche.field (table_id, lower(label)) WHERE retired_at IS NULL;

CREATE FUNCTION fiche.raise_revision() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE fiche."table" SET revision = revision + 1 WHERE id = coalesce(NEW.table_id, OLD.table_id);
  RETURN NULL;
END $$;
CREATE TRIGGER raise_revision AFTER INSERT OR UPDATE OR DELETE ON fiche.field FOR EACH ROW EXECUTE FUNCTION fiche.raise_revision();
CREATE FUNCTION fiche.raise_own_revision() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  NEW.revision := OLD.revision + 1;
  RETURN NEW;
END $$;
CREATE TRIGGER raise_revision BEFORE UPDATE ON fiche."table" FOR EACH ROW EXECUTE FUNCTION fiche.raise_own_revision();

-- Definitions under capture name what is never written down: the counters among it.
DROP TRIGGER capture_added ON fiche."table"; DROP TRIGGER capture_changed ON fiche."table"; DROP TRIGGER capture_erased ON fiche."table";
SELECT ledger.watch('fiche."table"', 'id', 'id,position,revision');
DROP TRIGGER capture_added ON fiche.field; DROP TRIGGER capture_changed ON fiche.field; DROP TRIGGER capture_erased ON fiche.field;
SELECT ledger.watch('fiche.field', 'table_id,id', 'table_id,id,position,pending');

-- ---------------------------------------------------------------------------------------------- several links

-- Keeps the pairs of a field of several links in step with its column, so that real foreign keys stand behind them.
-- Arguments: the column, the table of pairs.
CREATE FUNCTION fiche.keep_pairs() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog AS $$
BEGIN
  EXECUTE format('DELETE FROM data.%1$I WHERE record = $1 AND NOT target = ANY(coalesce(($2).%2$I, ''{}''))', TG_ARGV[1], TG_ARGV[0]) USING NEW.id, NEW;
  EXECUTE format('INSERT INTO data.%1$I (record, target) SELECT $1, unnest(($2).%2$I) ON CONFLICT DO NOTHING', TG_ARGV[1], TG_ARGV[0]) USING NEW.id, NEW;
  RETURN NULL;
END $$;

CREATE FUNCTION fiche.make_pairs(of_table text, field text, pairs text, target text) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  EXECUTE format('CREATE TABLE data.%I (record bigint NOT NULL REFERENCES data.%I ON DELETE CASCADE, target bigint NOT NULL REFERENCES data.%I ON DELETE RESTRICT, PRIMARY KEY (record, target))', pairs, of_table, target);
  EXECUTE format('CREATE INDEX ON data.%I (target)', pairs);
  EXECUTE format('GRANT SELECT ON data.%I TO {app}', pairs);
  EXECUTE format('CREATE TRIGGER %I AFTER INSERT ON data.%I FOR EACH ROW WHEN (NEW.%I IS NOT NULL) EXECUTE FUNCTION fiche.keep_pairs(%L, %L)',
    left('pairs_added_' || field, 60), of_table, field, field, pairs);
  EXECUTE format('CREATE TRIGGER %I AFTER UPDATE OF %I ON data.%I FOR EACH ROW WHEN (NEW.%I IS DISTINCT FROM OLD.%I) EXECUTE FUNCTION fiche.keep_pairs(%L, %L)',
    left('pairs_changed_' || field, 60), field, of_table, field, field, field, pairs);
END $$;
REVOKE ALL ON FUNCTION fiche.make_pairs(text, text, text, text), fiche.keep_pairs() FROM PUBLIC;

-- ---------------------------------------------------------------------------------------------- leads

-- A table linked to itself: nothing may stand above itself, over any number of steps. Argument: the column.
CREATE FUNCTION fiche.refuse_circle() RETURNS trigger LANGUAGE plpgsql SET search_path = pg_catalog AS $$
DECLARE
  circle boolean;
BEGIN
  -- Two changes that close a circle together must see one another.
  PERFORM pg_advisory_xact_lock(hashtext('circle:' || TG_TABLE_NAME || '.' || TG_ARGV[0]));
  EXECUTE format('WITH RECURSIVE up(id) AS (SELECT ($1).%2$I UNION SELECT t.%2$I FROM %1$s t JOIN up ON t.id = up.id WHERE t.%2$I IS NOT NULL) SELECT EXISTS (SELECT FROM up WHERE id = ($1).id)',
    TG_RELID::regclass, TG_ARGV[0]) INTO circle USING NEW;
  IF circle THEN
    RAISE EXCEPTION 'circle' USING ERRCODE = 'FI001', COLUMN = TG_ARGV[0];
  END IF;
  RETURN NULL;
END $$;

-- ---------------------------------------------------------------------------------------------- work

-- Work that outlasts a request: on the structure of tables, and bringing files in. Any server takes it up; one that
-- died while at it is noticed by its silence.
CREATE TABLE fiche.task (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  cabinet text NOT NULL REFERENCES fiche.cabinet,
  table_id text,
  kind text NOT NULL,
  label text NOT NULL,
  plan jsonb NOT NULL,
  account text NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'running', 'done', 'failed', 'cancelled')),
  done bigint NOT NULL DEFAULT 0,
  total bigint,
  message text,
  outcome jsonb,
  cancelling boolean NOT NULL DEFAULT false,
  beat_at timestamptz
);
-- One at a time works on a table's structure.
CREATE UNIQUE INDEX one_work_at_a_time ON fiche.task (table_id) WHERE state IN ('waiting', 'running') AND table_id IS NOT NULL;
CREATE INDEX ON fiche.task (state) WHERE state IN ('waiting', 'running');

-- ---------------------------------------------------------------------------------------------- files to bring in

CREATE TABLE fiche.import (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  cabinet text NOT NULL REFERENCES fiche.cabinet,
  account text NOT NULL,
  file text NOT NULL,
  size bigint NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  state text NOT NULL CHECK (state IN ('received', 'checked', 'written')),
  table_id text,
  plan jsonb,
  counts jsonb
);
CREATE TABLE fiche.import_part (
  import bigint NOT NULL REFERENCES fiche.import ON DELETE CASCADE,
  number integer NOT NULL,
  content bytea NOT NULL,
  PRIMARY KEY (import, number)
);
ALTER TABLE fiche.import_part ALTER COLUMN content SET STORAGE EXTERNAL;
-- Rows that cannot be brought in, as they stood in the file, and why.
CREATE TABLE fiche.import_bad_row (
  import bigint NOT NULL REFERENCES fiche.import ON DELETE CASCADE,
  number bigint NOT NULL,
  cells jsonb NOT NULL,
  problems jsonb NOT NULL,
  PRIMARY KEY (import, number)
);
SELECT ledger.watch('fiche.import', 'id', 'id,plan,at,account,state');
-- Rows that were read and found good wait here, in a table of their own for each import, until they are written.
CREATE SCHEMA staging;

GRANT SELECT ON fiche.task, fiche.import, fiche.import_part, fiche.import_bad_row TO {app};
