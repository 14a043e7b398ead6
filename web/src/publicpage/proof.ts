/** Leading zero bits of a hash. */
function zeroBits(hash: Uint8Array): number {
  const at = hash.findIndex((byte) => byte !== 0);
  return at === -1 ? hash.length * 8 : at * 8 + Math.clz32(hash[at] ?? 0) - 24;
}

/** Hashes between two moments in which the page can answer its person. */
const AT_ONCE = 64;

/**
 * Finds by trying a text whose SHA-256 together with the token of the opened page begins with so many zero bits: cheap
 * for one answer, dear for many. Empty where the browser cannot hash; the answer is then held for a person to look at.
 */
export async function findWork(token: string, bits: number): Promise<string> {
  const { subtle } = globalThis.crypto;
  if (!subtle) return '';
  const text = new TextEncoder();
  for (let from = 0; ; from += AT_ONCE) {
    const tried = Array.from({ length: AT_ONCE }, (_, n) => (from + n).toString(36));
    const hashes = await Promise.all(tried.map((one) => subtle.digest('SHA-256', text.encode(`${token}:${one}`))));
    const found = hashes.findIndex((hash) => zeroBits(new Uint8Array(hash)) >= bits);
    if (found !== -1) return tried[found] ?? '';
  }
}
