-- The records of large tables as they stood at some moments of the past, added up from their lines, so that a moment between two of
-- them needs few lines. Verification adds the lines up again.
CREATE TABLE ledger.checkpoint (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  table_id text NOT NULL REFERENCES fiche."table",
  -- Its lines are those up to this moment, and those up to this id: both say the same of the lines of this table.
  at timestamptz NOT NULL,
  line bigint NOT NULL,
  records bigint NOT NULL,
  -- Changes between the checkpoint before and this one.
  changes bigint NOT NULL,
  UNIQUE (table_id, at)
);
-- Of each record what its lines up to there add up to. Removed with its checkpoint by what removes that, and with what is erased.
CREATE TABLE ledger.checkpoint_record (
  checkpoint bigint NOT NULL,
  record bigint NOT NULL,
  version integer NOT NULL,
  changed_at timestamptz NOT NULL,
  changed_by text NOT NULL,
  state jsonb NOT NULL,
  PRIMARY KEY (checkpoint, record)
);

-- When each table was last looked at for whether it needs another one.
CREATE TABLE fiche.checkpoint_look (
  table_id text PRIMARY KEY REFERENCES fiche."table",
  at timestamptz NOT NULL DEFAULT now()
);

-- What one line makes of the values before it, as `ledger.told` has it: most lines name the same columns before and after, and those
-- need no second look. Without a query in it, so that it becomes part of the statement that calls it.
CREATE FUNCTION ledger.says(before json, after json) RETURNS jsonb LANGUAGE sql IMMUTABLE PARALLEL SAFE
  RETURN CASE WHEN before IS NULL THEN after::jsonb
    WHEN jsonb_path_query_array(after::jsonb, '$.keyvalue().key') @> jsonb_path_query_array(before::jsonb, '$.keyvalue().key') THEN after::jsonb
    ELSE ledger.told(before, after) END;
REVOKE ALL ON FUNCTION ledger.says(json, json) FROM PUBLIC;
GRANT EXECUTE ON FUNCTION ledger.says(json, json) TO {app};
