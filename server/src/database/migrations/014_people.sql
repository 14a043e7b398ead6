-- Accounts that are invited and have no password yet, links that set one, and sessions that their owner can see and end.
ALTER TABLE fiche.account ALTER COLUMN password_hash DROP NOT NULL, ADD COLUMN email text;

-- One link at a time for an account; only its hash is kept.
CREATE TABLE fiche.password_link (
  login text PRIMARY KEY REFERENCES fiche.account,
  token_hash text NOT NULL UNIQUE,
  expires_at timestamptz NOT NULL
);

ALTER TABLE fiche.session
  ADD COLUMN id bigint GENERATED ALWAYS AS IDENTITY UNIQUE,
  ADD COLUMN seen_at timestamptz NOT NULL DEFAULT now(),
  ADD COLUMN address text NOT NULL DEFAULT '',
  ADD COLUMN device text NOT NULL DEFAULT '';
CREATE INDEX ON fiche.session (login);

-- A session, and whether the moment of its last use has to be written.
DROP FUNCTION fiche.session_of(text);
CREATE FUNCTION fiche.session_of(hash text) RETURNS TABLE (login text, csrf text, touch_due boolean) LANGUAGE sql STABLE SECURITY DEFINER ROWS 1 SET search_path = pg_catalog, pg_temp AS $$
  SELECT s.login, s.csrf, s.seen_at < now() - interval '5 minutes' FROM fiche.session s JOIN fiche.account a ON a.login = s.login
  WHERE s.token_hash = hash AND s.expires_at > now() AND a.closed_at IS NULL
$$;
CREATE FUNCTION fiche.touch_sessions(hashes text[]) RETURNS void LANGUAGE sql SECURITY DEFINER SET search_path = pg_catalog, pg_temp AS $$
  UPDATE fiche.session SET seen_at = now() WHERE token_hash = ANY(hashes) AND seen_at < now() - interval '5 minutes'
$$;
REVOKE ALL ON FUNCTION fiche.session_of(text), fiche.touch_sessions(text[]) FROM PUBLIC;
GRANT EXECUTE ON FUNCTION fiche.session_of(text), fiche.touch_sessions(text[]) TO {app};

-- Who builds managed the people so far.
SELECT set_config('fiche.actor', 'upgrade', true), set_config('fiche.through', '{"kind": "upgrade", "label": "People"}', true);
UPDATE fiche.role SET rights = rights || '{people}' WHERE 'build' = ANY(rights) AND NOT 'people' = ANY(rights);
SELECT set_config('fiche.actor', '', true), set_config('fiche.through', '', true);

-- Who made a link for whom is accounted for; of the link itself only that there was one.
SELECT ledger.watch('fiche.password_link', 'login', 'login', 'token_hash');

-- A second factor by time (RFC 6238). Unconfirmed until its first code was typed; a code counts once: the last step that was used.
CREATE TABLE fiche.second_factor (
  login text PRIMARY KEY REFERENCES fiche.account,
  secret text NOT NULL,
  confirmed_at timestamptz,
  last_step bigint
);
SELECT ledger.watch('fiche.second_factor', 'login', 'login,last_step', 'secret');

-- Codes for whoever has lost the device, each good once; only their hashes are kept.
CREATE TABLE fiche.recovery_code (
  login text NOT NULL REFERENCES fiche.account,
  code_hash text NOT NULL,
  PRIMARY KEY (login, code_hash)
);

-- What programs call with, in place of a session: shown once, kept as its hash. A name is stamped into records and never used again.
CREATE TABLE fiche.token (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL UNIQUE CHECK (name ~ '^[a-z][a-z0-9-]{1,39}$'),
  cabinet text NOT NULL REFERENCES fiche.cabinet,
  role text NOT NULL REFERENCES fiche.role,
  -- The only tables that it may be used for; null for all of the cabinet.
  tables text[],
  token_hash text NOT NULL UNIQUE,
  made_by text NOT NULL,
  made_at timestamptz NOT NULL DEFAULT fiche.moment(),
  expires_at timestamptz,
  revoked_at timestamptz,
  used_at timestamptz
);
SELECT ledger.watch('fiche.token', 'id', 'id,made_by,made_at,used_at', 'token_hash');
CREATE FUNCTION fiche.token_of(hash text) RETURNS TABLE (id bigint, name text, cabinet text, role text, tables text[], touch_due boolean) LANGUAGE sql STABLE SECURITY DEFINER ROWS 1 SET search_path = pg_catalog, pg_temp AS $$
  SELECT t.id, t.name, t.cabinet, t.role, t.tables, coalesce(t.used_at < now() - interval '1 minute', true) FROM fiche.token t
  WHERE t.token_hash = hash AND t.revoked_at IS NULL AND (t.expires_at IS NULL OR t.expires_at > now())
$$;
CREATE FUNCTION fiche.touch_tokens(ids bigint[]) RETURNS void LANGUAGE sql SECURITY DEFINER SET search_path = pg_catalog, pg_temp AS $$
  UPDATE fiche.token SET used_at = now() WHERE id = ANY(ids)
$$;
REVOKE ALL ON FUNCTION fiche.token_of(text), fiche.touch_tokens(bigint[]) FROM PUBLIC;
GRANT EXECUTE ON FUNCTION fiche.token_of(text), fiche.touch_tokens(bigint[]) TO {app};
GRANT SELECT (id, name, cabinet) ON fiche.token TO {app};
