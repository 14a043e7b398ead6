import { PassThrough, Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { asActor } from '@fiche/server/database/index';
import { receiveFile } from '@fiche/server/imports/index';
import { createServices } from '@fiche/server/work';
import { from as copyFrom } from 'pg-copy-streams';
import { openBenchOffice, type Ratio } from './office.ts';

const ROWS = 100_000;
const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'bench' } } as const;
const NAMES = ['Registration', 'Length', 'Arrival', 'Departure'];

function* lines(): Generator<string> {
  const two = (n: number): string => String(n).padStart(2, '0');
  for (let n = 0; n < ROWS; n++) {
    const day = `2026-${two(1 + (n % 12))}-${two(1 + (n % 27))}`;
    yield `GS-${1_000 + (n % 9_000)},${(5 + (n % 300) / 10).toFixed(2)},${day} 10:00,${day} 16:30\n`;
  }
}

/** An import of 100,000 CSV rows, received, checked and captured, against COPY of the same rows into the same captured table. */
export async function importBench(): Promise<Ratio[]> {
  const plain = await copied();
  const office = await openBenchOffice();
  const services = createServices(office.databases);
  try {
    const begun = performance.now();
    const file = Buffer.from([`${NAMES.join(',')}\n`, ...lines()].join(''));
    const received = await receiveFile(
      office.databases,
      'quay',
      'harbourmaster',
      'stays.csv',
      Readable.from([file]),
      file.length,
    );
    const plan = {
      reading: { kind: 'csv', encoding: 'utf-8', separator: ',', sheet: 1, header: 0 },
      into: { kind: 'table', table: 'quay_stays' },
      columns: NAMES.map((name, at) => ({
        name,
        at,
        to: { kind: 'field', field: name.toLowerCase() },
        dates: 'dayFirst',
        decimal: '.',
        matchOn: null,
      })),
      key: [],
      found: 'change',
      missing: 'add',
    };
    await office.databases
      .owner('fiche.import')
      .where({ id: received.id })
      .update({ plan: JSON.stringify(plan) });
    for (const [kind, more] of [
      ['checkImport', {}],
      ['writeImport', { rows: 'all' }],
    ] as const) {
      const task = await services.tasks.begin(
        { cabinet: 'quay', kind, label: kind, plan: { id: received.id, ...more }, account: 'harbourmaster' },
        0,
      );
      await services.tasks.idle();
      const over = await services.tasks.view(task.id);
      if (over.state !== 'done') throw new Error(over.message ?? over.state);
    }
    const ours = performance.now() - begun;
    return [
      {
        what: 'import of 100,000 CSV rows against COPY',
        ratio: ours / plain,
        aim: '≤ 1.5',
        detail: `${(ours / 1000).toFixed(1)} against ${(plain / 1000).toFixed(1)} s, both captured`,
      },
    ];
  } finally {
    await office.close();
  }
}

async function copied(): Promise<number> {
  const office = await openBenchOffice();
  try {
    const begun = performance.now();
    await asActor(office.databases.owner, actor, async (transaction) => {
      const connection = await transaction.client.acquireConnection();
      const stream = connection.query(
        copyFrom('COPY data.quay_stays (registration, length, arrival, departure) FROM STDIN (FORMAT csv)'),
      );
      await pipeline(Readable.from(lines()), new PassThrough(), stream);
    });
    return performance.now() - begun;
  } finally {
    await office.close();
  }
}
