-- Roles are a cabinet's own, with rights to tables, records, fields and forms. Each cabinet gets the roles that all shared so far.
CREATE TABLE fiche.former_role AS SELECT * FROM fiche.role;
ALTER TABLE fiche.membership DROP CONSTRAINT membership_role_fkey;
ALTER TABLE fiche.token DROP CONSTRAINT token_role_fkey;
SELECT set_config('fiche.actor', 'upgrade', true), set_config('fiche.through', '{"kind": "upgrade", "label": "Roles"}', true);
DELETE FROM fiche.role;
ALTER TABLE fiche.role DROP CONSTRAINT role_pkey;
ALTER TABLE fiche.role
  ADD COLUMN cabinet text NOT NULL REFERENCES fiche.cabinet,
  -- History, tables, fields and forms: what `roleDefinitionSchema` of the core says, but for label and rights.
  ADD COLUMN reach jsonb NOT NULL,
  ADD COLUMN revision integer NOT NULL DEFAULT 1,
  ADD PRIMARY KEY (cabinet, id);
SELECT ledger.watch('fiche.role', 'cabinet,id', 'cabinet,id,revision');
INSERT INTO fiche.role (cabinet, id, label, rights, reach)
SELECT c.id, r.id, r.label,
  ARRAY(SELECT one FROM unnest(ARRAY['ledger', 'build', 'people', 'erase']) one WHERE one = ANY(r.rights)),
  jsonb_build_object(
    'history', CASE WHEN 'history' = ANY(r.rights) THEN 'all' ELSE 'none' END,
    'secondFactor', false, 'tables', '{}'::jsonb, 'closedForms', '[]'::jsonb,
    'others', jsonb_build_object(
      'see', CASE WHEN 'see' = ANY(r.rights) THEN 'all' ELSE 'none' END,
      'add', CASE WHEN 'add' = ANY(r.rights) THEN 'all' ELSE 'none' END,
      'change', CASE WHEN 'change' = ANY(r.rights) THEN 'all' ELSE 'none' END,
      'archive', CASE WHEN 'archive' = ANY(r.rights) THEN 'all' ELSE 'none' END,
      'export', CASE WHEN 'see' = ANY(r.rights) THEN 'all' ELSE 'none' END,
      'import', CASE WHEN 'add' = ANY(r.rights) THEN 'all' ELSE 'none' END,
      'fields', '{}'::jsonb))
FROM fiche.cabinet c CROSS JOIN fiche.former_role r ORDER BY c.id, r.id;
SELECT set_config('fiche.actor', '', true), set_config('fiche.through', '', true);
DROP TABLE fiche.former_role;
ALTER TABLE fiche.membership ADD FOREIGN KEY (cabinet, role) REFERENCES fiche.role;
ALTER TABLE fiche.token ADD FOREIGN KEY (cabinet, role) REFERENCES fiche.role;

-- Work in the background asks for the role of the token that began it.
GRANT SELECT (role, revoked_at) ON fiche.token TO {app};

-- Who sees a cabinet as a role has it, in one session, and until when. The line of each says so.
CREATE TABLE fiche.seen_as (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  session bigint NOT NULL,
  login text NOT NULL REFERENCES fiche.account,
  cabinet text NOT NULL REFERENCES fiche.cabinet,
  role text NOT NULL,
  ended_at timestamptz
);
CREATE UNIQUE INDEX ON fiche.seen_as (session) WHERE ended_at IS NULL;
SELECT ledger.watch('fiche.seen_as', 'id', 'id,session');
GRANT SELECT (id, cabinet, login, role) ON fiche.seen_as TO {app};

-- A session, whether its account has a second factor, and as which role it sees which cabinet.
DROP FUNCTION fiche.session_of(text);
CREATE FUNCTION fiche.session_of(hash text) RETURNS TABLE (login text, csrf text, touch_due boolean, second_factor boolean, as_cabinet text, as_role text) LANGUAGE sql STABLE SECURITY DEFINER ROWS 1 SET search_path = pg_catalog, pg_temp AS $$
  SELECT s.login, s.csrf, s.seen_at < now() - interval '5 minutes',
    EXISTS (SELECT FROM fiche.second_factor f WHERE f.login = s.login AND f.confirmed_at IS NOT NULL), v.cabinet, v.role
  FROM fiche.session s JOIN fiche.account a ON a.login = s.login
  LEFT JOIN fiche.seen_as v ON v.session = s.id AND v.ended_at IS NULL
  WHERE s.token_hash = hash AND s.expires_at > now() AND a.closed_at IS NULL
$$;
REVOKE ALL ON FUNCTION fiche.session_of(text) FROM PUBLIC;
GRANT EXECUTE ON FUNCTION fiche.session_of(text) TO {app};
