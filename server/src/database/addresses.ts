/** What libpq reads of an address with several hosts; here the server that takes writes is looked for in any case. */
const SESSION_ATTRIBUTES = 'target_session_attrs';

/** An address in parts: what stands before its hosts, the hosts, what stands after them. */
const PARTS = /^(postgres(?:ql)?:\/\/(?:[^@/]*@)?)([^/?]*)(.*)$/;

/**
 * One address for each host of an address, which names several as libpq has it:
 * `postgres://me@a:5432,b/fiche` gives `postgres://me@a:5432/fiche` and `postgres://me@b/fiche`. Never empty.
 */
export function addressesOf(url: string): readonly [string, ...string[]] {
  const [, before = '', hosts = '', after = ''] = PARTS.exec(url) ?? [];
  const [first, ...others] = hosts.split(',').map((host) => withoutAttributes(`${before}${host}${after}`));
  return first === undefined || before === '' ? [url] : [first, ...others];
}

function withoutAttributes(url: string): string {
  if (!url.includes(SESSION_ATTRIBUTES)) return url;
  const address = new URL(url);
  address.searchParams.delete(SESSION_ATTRIBUTES);
  return address.href;
}

/** The same address for another role. */
export function withRole(url: string, role: string, password: string): string {
  const address = new URL(url);
  address.username = role;
  address.password = password;
  return address.href;
}

/** The password in an address, that of its first host; empty where it has none. */
export const passwordIn = (url: string): string => new URL(addressesOf(url)[0]).password;

/** Whether an address names who signs in. */
export const namesRole = (url: string): boolean => new URL(addressesOf(url)[0]).username !== '';
