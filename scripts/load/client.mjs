// Somebody who calls a server over HTTP.

/** Somebody who calls a server: `base` is its address. The session is shared by all callers made from one. */
export function callerOf(base, secrets = { cookie: '', csrf: '' }) {
  /** One request; `undefined` when there was no answer. */
  async function call(method, path, body, headers = {}) {
    try {
      const reply = await fetch(`${base}${path}`, {
        method,
        signal: AbortSignal.timeout(30_000),
        headers: {
          ...(typeof body === 'string'
            ? { 'content-type': 'application/octet-stream' }
            : body
              ? { 'content-type': 'application/json' }
              : {}),
          ...(secrets.cookie ? { cookie: secrets.cookie, 'x-fiche-csrf': secrets.csrf } : {}),
          ...headers,
        },
        ...(body ? { body: typeof body === 'string' ? body : JSON.stringify(body) } : {}),
      });
      const cookie = reply.headers.get('set-cookie');
      return { status: reply.status, body: await reply.json(), cookie };
    } catch {
      return undefined;
    }
  }
  /** The same for a request that has to succeed. Throws with what was answered. */
  async function must(method, path, body, headers) {
    const answer = await call(method, path, body, headers);
    if (answer?.status !== 200) throw new Error(`${method} ${path}: ${JSON.stringify(answer)?.slice(0, 400)}`);
    return answer;
  }
  return {
    base,
    call,
    must,
    secrets,
    /** The same person at another server. */
    at: (other) => callerOf(other, secrets),
    /** Somebody who is not signed in. */
    stranger: () => callerOf(base),
    /** Signs in with these credentials; all callers made from this one are signed in then. */
    async signIn(credentials) {
      secrets.cookie = '';
      const { body, cookie } = await must('POST', '/api/session', credentials);
      secrets.cookie = cookie.split(';')[0];
      secrets.csrf = body.csrf;
    },
  };
}
