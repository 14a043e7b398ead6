/** Reading by a schema, which the public page never does. */
const READS = new Set<string | symbol>(['parse', 'safeParse', 'parseAsync', 'safeParseAsync']);

/**
 * Stands for `zod` in the bundle of the public page: schemas can be written down there and not run. Anything that is asked of
 * it gives itself; reading by it is an error of ours.
 */
export const z: unknown = new Proxy(() => undefined, {
  get: (_schema, name) => {
    if (READS.has(name)) throw new Error('The public page reads nothing by schemas.');
    return name === Symbol.toPrimitive ? () => '' : z;
  },
  apply: () => z,
});
