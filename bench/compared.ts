import type { Ratio } from './office.ts';

const ROUNDS = 15;

/** Gives what compares our work with the same work as plain SQL, held to an aim: the medians of some rounds, in turn, as a ratio. */
export const comparing =
  (aim: string) =>
  async (
    what: string,
    ours: (round: number) => Promise<unknown>,
    plain: (round: number) => Promise<unknown>,
    rounds = ROUNDS,
  ): Promise<Ratio> => {
    const times: [number[], number[]] = [[], []];
    for (let round = 0; round < rounds; round++)
      for (const [at, work] of [ours, plain].entries()) {
        const begun = performance.now();
        await work(round);
        times[at]?.push(performance.now() - begun);
      }
    const [a = 0, b = 1] = times.map((of) => of.sort((x, y) => x - y)[Math.floor(of.length / 2)] ?? 0);
    return { what, ratio: a / b, aim, detail: `${a.toFixed(1)} against ${b.toFixed(1)} ms, median` };
  };

/** The median of some rounds as a part of the time that it may take, in ms. */
export async function withinTime(
  what: string,
  most: number,
  ours: (round: number) => Promise<unknown>,
): Promise<Ratio> {
  const times: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const begun = performance.now();
    await ours(round);
    times.push(performance.now() - begun);
  }
  const median = times.sort((x, y) => x - y)[Math.floor(ROUNDS / 2)] ?? Number.NaN;
  return { what, ratio: median / most, aim: '≤ 1', detail: `${median.toFixed(1)} of ${most} ms, median` };
}
