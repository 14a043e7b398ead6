import { EVERYTHING } from '@fiche/core/conditions';
import { newFieldSchema } from '@fiche/core/tables';
import { asActor, type Database } from '@fiche/server/database/index';
import { addField, changeTable, createTable } from '@fiche/server/tables/index';
import { createServices } from '@fiche/server/work';
import { openBenchOffice, type Ratio } from './office.ts';

const RECORDS = 100_000;
const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'bench' } } as const;

/** A table of moves, and a ripple that adds a line to it whenever a stay departs at another time. */
async function addRipple(owner: Database): Promise<void> {
  await asActor(owner, actor, async (write) => {
    const moves = await createTable(write, 'quay', 'Moves', '');
    for (const field of [
      { label: 'Stay', type: 'link', settings: { table: 'quay_stays' } },
      { label: 'Before', type: 'dateTime' },
      { label: 'After', type: 'dateTime' },
      { label: 'By', type: 'text' },
    ])
      await addField(write, moves.id, newFieldSchema.parse(field));
    const from = (path: string) => ({ kind: 'field' as const, path });
    const values = [
      { to: 'stay', from: { kind: 'record' as const } },
      { to: 'before', from: from('before__departure') },
      { to: 'after', from: from('departure') },
      { to: 'by', from: { kind: 'account' as const } },
    ];
    const ripple = {
      id: 'moves',
      label: 'Moves',
      on: ['changed' as const],
      fields: ['departure'],
      when: EVERYTHING,
      paused: false,
    };
    await changeTable(write, 'quay_stays', {
      ripples: [{ ...ripple, effects: [{ does: 'add', table: moves.id, values }] }],
    });
  });
}

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
    const planTo = (departure: string) => ({
      what: {
        kind: 'set',
        set: [
          { field: 'departure', becomes: { kind: 'value', value: departure } },
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
    });
    const memory: number[] = [process.memoryUsage().rss];
    const watch = setInterval(() => memory.push(process.memoryUsage().rss), 200);
    /** Checks and writes a change of all records; gives how long each took, in ms. */
    const run = async (departure: string): Promise<number[]> => {
      const { rows } = await owner.raw<{ rows: { id: number }[] }>(
        `INSERT INTO fiche.change_plan (cabinet, table_id, account, plan) VALUES ('quay', 'quay_stays', 'harbourmaster', ?) RETURNING id`,
        [JSON.stringify(planTo(departure))],
      );
      const id = Number(rows[0]?.id);
      const times: number[] = [];
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
      return times;
    };
    const [check = 0, write = 0] = await run('2026-08-11T10:00');
    const grown = (Math.max(...memory) - (memory[0] ?? 0)) / 1024 / 1024;
    await addRipple(owner);
    const [checkAgain = 0, writeRippled = 0] = await run('2026-08-12T10:00');
    clearInterval(watch);
    return [
      {
        what: 'a change of 100,000 records, decided and captured',
        ratio: (check + write) / plain,
        aim: '≤ 4',
        detail: `${(check / 1000).toFixed(1)} s to check, ${(write / 1000).toFixed(1)} s to write, against ${(plain / 1000).toFixed(1)} s; ${grown.toFixed(0)} MB more memory at most`,
      },
      {
        what: 'the same with a ripple that adds a line for each',
        ratio: (checkAgain + writeRippled) / (check + write),
        aim: '≤ 2.5',
        detail: `${(writeRippled / 1000).toFixed(1)} s to write, against ${(write / 1000).toFixed(1)} s without`,
      },
    ];
  } finally {
    await services.tasks.stop();
    await office.close();
  }
}
