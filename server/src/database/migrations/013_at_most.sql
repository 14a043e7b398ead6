-- At most so many records on one day. Arguments: the rule’s name; over the row as $1, which records it is counted with, as
-- text, or null where it is not counted; and whether some day has more than it may.
CREATE FUNCTION fiche.hold_at_most() RETURNS trigger LANGUAGE plpgsql SET search_path = pg_catalog, pg_temp AS $$
DECLARE
  together text;
  too_many boolean;
BEGIN
  EXECUTE 'SELECT ' || TG_ARGV[1] INTO together USING NEW;
  IF together IS NULL THEN
    RETURN NULL;
  END IF;
  -- Two that take the last place together must see one another. Few locks, so that an import of a million rows has enough.
  PERFORM pg_advisory_xact_lock(hashtext(TG_ARGV[0]), hashtext(together) & 63);
  EXECUTE 'SELECT ' || TG_ARGV[2] INTO too_many USING NEW;
  IF too_many THEN
    RAISE EXCEPTION 'too many records on one day' USING ERRCODE = 'FI002', TABLE = TG_TABLE_NAME, CONSTRAINT = TG_ARGV[0];
  END IF;
  RETURN NULL;
END $$;
REVOKE ALL ON FUNCTION fiche.hold_at_most() FROM PUBLIC;
