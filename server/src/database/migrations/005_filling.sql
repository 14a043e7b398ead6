-- The order that somebody gave to the lines of a record, where it is not the order of entry.
CREATE TABLE fiche.line_order (
  table_id text NOT NULL REFERENCES fiche."table",
  link text NOT NULL,
  record bigint NOT NULL,
  records bigint[] NOT NULL,
  PRIMARY KEY (table_id, link, record)
);
GRANT SELECT, INSERT, UPDATE (records) ON fiche.line_order TO {app};
