import { asActor } from '@fiche/server/database/index';
import { createServices } from '@fiche/server/work';
import { openBenchOffice, type Ratio } from './office.ts';

const RECORDS = 100_000;
const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'bench' } } as const;

/** A change of two fields of 100,000 records, each decided like its card and captured, against the same change as one statement. */
export async function changingBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  const { owner } = office.databases;
  const services = createServices(office.databases);
  try {
    await asActor(owner, actor, (write) =>
      write.raw(
        `INSERT INTO data.quay_stays (registration, length, arrival, departure)
         SELECT 'GS-' || n, 5 + n % 30, '2026-08-01 12:00', '2026-08-09 10:00' FROM generate_series(1, ?::integer) n`,
        [RECORDS],
      ),
    );
    await owner.raw('VACUUM ANALYZE data.quay_stays');
    const begun = performance.now();
    await asActor(owner, actor, (write) =>
      write.raw(`UPDATE data.quay_stays SET departure = '2026-08-10 10:00', length = length + 1`),
    );
    const plain = performance.now() - begun;
    const plan = {
      what: {
        kind: 'set',
        set: [
          { field: 'departure', becomes: { kind: 'value', value: '2026-08-11T10:00' } },
          { field: 'length', becomes: { kind: 'calculation', source: 'length + 1.0' } },
        ],
      },
      records: {
        kind: 'all',
        listing: {
          columns: [{ path: 'number' }],
          filter: { kind: 'group', match: 'all', of: [] },
          sort: [],
          frozen: 1,
        },
        search: '',
        archived: 'no',
        except: [],
      },
      reasons: {},
    };
    const { rows } = await owner.raw<{ rows: { id: number }[] }>(
      `INSERT INTO fiche.change_plan (cabinet, table_id, account, plan) VALUES ('quay', 'quay_stays', 'harbourmaster', ?) RETURNING id`,
      [JSON.stringify(plan)],
    );
    const id = Number(rows[0]?.id);
    const times: number[] = [];
    const memory: number[] = [process.memoryUsage().rss];
    const watch = setInterval(() => memory.push(process.memoryUsage().rss), 200);
    for (const [kind, more] of [
      ['checkChange', {}],
      ['writeChange', { records: 'all' }],
    ] as const) {
      const from = performance.now();
      const task = await services.tasks.begin(
        { cabinet: 'quay', table: 'quay_stays', kind, label: kind, plan: { id, ...more }, account: 'harbourmaster' },
        600_000,
      );
      times.push(performance.now() - from);
      if (task.state !== 'done') throw new Error(`${kind}: ${task.message}`);
    }
    clearInterval(watch);
    const [check = 0, write = 0] = times;
    const grown = (Math.max(...memory) - (memory[0] ?? 0)) / 1024 / 1024;
    return [
      {
        what: 'a change of 100,000 records, decided and captured',
        ratio: (check + write) / plain,
        aim: '≤ 4',
        detail: `${(check / 1000).toFixed(1)} s to check, ${(write / 1000).toFixed(1)} s to write, against ${(plain / 1000).toFixed(1)} s; ${grown.toFixed(0)} MB more memory at most`,
      },
    ];
  } finally {
    await services.tasks.stop();
    await office.close();
  }
}
