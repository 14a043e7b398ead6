-- What narrows a link wherever it is written: a group of conditions, or null.
ALTER TABLE fiche.field ADD COLUMN narrowing jsonb;

-- Where the office is and how it writes. No row: the server's own time zone counts, as before.
CREATE TABLE fiche.office (
  one boolean PRIMARY KEY DEFAULT true CHECK (one),
  time_zone text NOT NULL,
  locale text NOT NULL,
  currency text NOT NULL
);
GRANT SELECT ON fiche.office TO {app};
SELECT ledger.watch('fiche.office', 'one', 'one');

-- The year of a number is the office's: around New Year it is another one elsewhere.
CREATE OR REPLACE FUNCTION fiche.next_number(name text, prefix text, with_year boolean, width integer, first bigint)
RETURNS text LANGUAGE plpgsql VOLATILE SECURITY DEFINER SET search_path = pg_catalog, pg_temp AS $$
DECLARE
  zone text := coalesce((SELECT o.time_zone FROM fiche.office o), current_setting('TimeZone'));
  year text := to_char(fiche.moment() AT TIME ZONE zone, 'YYYY');
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
