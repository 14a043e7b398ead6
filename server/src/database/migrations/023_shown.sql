-- A shared view can stand on the Home of everybody who has it.
ALTER TABLE fiche.view ADD COLUMN home boolean;

-- Which views an account has put on its own Home of a cabinet, or taken off it, in order: what `homeViewsSchema` of the core says.
CREATE TABLE fiche.home (
  account text NOT NULL REFERENCES fiche.account,
  cabinet text NOT NULL REFERENCES fiche.cabinet,
  views jsonb NOT NULL,
  PRIMARY KEY (account, cabinet)
);
GRANT SELECT, INSERT, UPDATE (views) ON fiche.home TO {app};
