/**
 * What one list of words has and the other has not, each with what was gained or lost before it.
 *
 * @example
 * wordDifferences(['a', 'b'], ['b', 'c'], 'Now', 'No longer'); // ['Now: c', 'No longer: a']
 */
export const wordDifferences = (
  old: readonly string[],
  now: readonly string[],
  gained: string,
  lost: string,
): string[] => [
  ...now.filter((one) => !old.includes(one)).map((one) => `${gained}: ${one}`),
  ...old.filter((one) => !now.includes(one)).map((one) => `${lost}: ${one}`),
];
