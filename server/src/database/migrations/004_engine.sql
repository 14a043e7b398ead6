-- What sections hold besides fields, rules that ask, calculations, reference cards, and where filled values came from.

ALTER TABLE fiche.field ADD COLUMN calculation text;
ALTER TABLE fiche."table" ADD COLUMN card jsonb NOT NULL DEFAULT '[]';

-- What stands in a section is not only fields any more.
CREATE FUNCTION pg_temp.with_items(definition jsonb) RETURNS jsonb LANGUAGE sql AS $$
  SELECT jsonb_set(definition, '{sections}', coalesce(
    (SELECT jsonb_agg((s - 'fields') || jsonb_build_object('items', coalesce(s->'items', s->'fields')) ORDER BY n)
       FROM jsonb_array_elements(definition->'sections') WITH ORDINALITY AS t(s, n)), '[]'))
$$;
UPDATE fiche.form SET draft = pg_temp.with_items(draft);
UPDATE fiche.form_version SET definition = pg_temp.with_items(definition);

UPDATE fiche."table" SET rules = (SELECT jsonb_agg(r || '{"when": null, "examples": []}' ORDER BY n) FROM jsonb_array_elements(rules) WITH ORDINALITY AS t(r, n))
  WHERE jsonb_array_length(rules) > 0;

-- Where the filled values of a record came from: the field that filled, the record that it was copied from, and what it
-- said that day. One row a record, so that a save writes it in its own statement.
CREATE TABLE fiche.origin (
  table_id text NOT NULL REFERENCES fiche."table",
  record bigint NOT NULL,
  origins jsonb NOT NULL,
  PRIMARY KEY (table_id, record)
);
GRANT SELECT, INSERT, UPDATE (origins) ON fiche.origin TO {app};
