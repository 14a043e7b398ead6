-- Adds up what the lines of a record say, oldest first: later values take the place of earlier ones, by name.
CREATE AGGREGATE ledger.summed(jsonb) (sfunc = jsonb_concat, stype = jsonb, initcond = '{}');

-- What one line makes of the values before it: the columns that it names only as they were became blank.
CREATE FUNCTION ledger.told(before json, after json) RETURNS jsonb LANGUAGE sql IMMUTABLE PARALLEL SAFE
  RETURN coalesce((SELECT jsonb_object_agg(key, NULL::text) FROM json_object_keys(before) AS key), '{}'::jsonb) || coalesce(after::jsonb, '{}'::jsonb);
GRANT EXECUTE ON FUNCTION ledger.told(json, json), ledger.summed(jsonb) TO {app};

-- Tables of the schema staging with the records of a large table as they stood once: made from the ledger when somebody looks,
-- so that they are sorted and counted like a table, and dropped an hour after somebody last did.
CREATE TABLE fiche.past_snapshot (
  name text PRIMARY KEY,
  table_id text NOT NULL REFERENCES fiche."table",
  used_at timestamptz NOT NULL DEFAULT now()
);
GRANT USAGE ON SCHEMA staging TO {app};

-- To whom a receipt for the newest seal of the ledger is sent each day.
CREATE TABLE fiche.receipt_mail (
  cabinet text PRIMARY KEY REFERENCES fiche.cabinet,
  address text NOT NULL,
  last_at timestamptz
);
SELECT ledger.watch('fiche.receipt_mail', 'cabinet', 'cabinet,last_at');
GRANT SELECT ON fiche.receipt_mail TO {app};
