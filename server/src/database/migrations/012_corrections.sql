-- Rows of an imported file as a person corrected them before they were imported.
CREATE TABLE fiche.import_correction (
  import bigint NOT NULL REFERENCES fiche.import ON DELETE CASCADE,
  number bigint NOT NULL,
  cells jsonb NOT NULL,
  PRIMARY KEY (import, number)
);
GRANT SELECT ON fiche.import_correction TO {app};
