import { Client, signIn } from './client.ts';
import { fillBerths, openBenchOffice, type Ratio } from './office.ts';
import { FORM, stayOnBerths } from './saving.ts';
import { portOf, startServer, stopServer } from './serving.ts';
import { overHttp } from './throughput.ts';

const BERTHS = 5_000;
const REPLAYS = 3;

/** The last 500 saves of a form, decided again under its draft: in a thread that loads the program first. */
export async function replayingBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  await fillBerths(office.databases, 50, BERTHS);
  const server = startServer(office.ownerUrl);
  try {
    const port = await portOf(server);
    const headers = await signIn(port, 'harbourmaster', 'bench-password');
    await overHttp(port, headers, 8, 10, FORM, () => stayOnBerths(BERTHS));
    const client = new Client(port, headers);
    const took: number[] = [];
    let looked = 0;
    for (let n = 0; n < REPLAYS; n++) {
      const begun = performance.now();
      const answer = await client.send('POST', `/api/forms/${FORM}/draft/replay`, '{}');
      if (answer.status !== 200) throw new Error(answer.body);
      ({ looked } = JSON.parse(answer.body) as { looked: number });
      took.push(performance.now() - begun);
    }
    client.close();
    const longest = Math.max(...took);
    return [
      {
        what: 'replay of a draft: the last 500 saves of its form, decided again',
        ratio: longest / 5_000,
        aim: '≤ 1',
        detail: `${longest.toFixed(0)} of 5,000 ms, ${looked} records`,
      },
    ];
  } finally {
    await stopServer(server);
    await office.close();
  }
}
