-- Forms, tables and cabinets can be taken out of use and brought back; what they hold stays.
ALTER TABLE fiche.form ADD COLUMN archived_at timestamptz;
ALTER TABLE fiche."table" ADD COLUMN archived_at timestamptz;
ALTER TABLE fiche.cabinet ADD COLUMN archived_at timestamptz;
ALTER TABLE fiche.cabinet ADD COLUMN description text;
