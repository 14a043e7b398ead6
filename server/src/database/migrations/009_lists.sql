-- A record whose fields are all blank has no other column that an INSERT could say.
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
  EXECUTE format('GRANT SELECT, INSERT (archived_at), UPDATE (archived_at) ON data.%I TO {app}', name);
END $$;

DO $$
DECLARE name text;
BEGIN
  FOR name IN SELECT t.id FROM fiche."table" t JOIN pg_class c ON c.relname = t.id AND c.relnamespace = 'data'::regnamespace LOOP
    EXECUTE format('GRANT INSERT (archived_at) ON data.%I TO {app}', name);
  END LOOP;
END $$;
