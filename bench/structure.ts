import { asActor } from '@fiche/server/database/index';
import { createServices } from '@fiche/server/work';
import { fillBerths, openBenchOffice, type Ratio } from './office.ts';

const RECORDS = 1_000_000;
const PONTOONS = 1_000;
const actor = { name: 'harbourmaster', through: { kind: 'form', label: 'bench' } } as const;

/** Work on the structure of a table of a million records, and the longest that somebody who writes to it had to wait. */
export async function structureBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  const { owner, app } = office.databases;
  const services = createServices(office.databases);
  try {
    await fillBerths(office.databases, PONTOONS, RECORDS);
    await owner.raw(`ALTER TABLE data.quay_berths DISABLE TRIGGER USER`);
    await owner.raw(`UPDATE data.quay_berths SET number = id::text`);
    await owner.raw(`ALTER TABLE data.quay_berths ENABLE TRIGGER USER`);
    await owner.raw('VACUUM ANALYZE data.quay_berths');
    const ratios: Ratio[] = [];
    const measure = async (what: string, kind: string, plan: object): Promise<void> => {
      const begun = performance.now();
      const task = await services.tasks.begin(
        { cabinet: 'quay', table: 'quay_berths', kind, label: what, plan, account: 'harbourmaster' },
        0,
      );
      let longest = 0;
      let writing = true;
      const writer = (async () => {
        for (let n = 1; writing; n++) {
          const asked = performance.now();
          await asActor(app, actor, (transaction) =>
            transaction.raw('UPDATE data.quay_berths SET pontoon = ? WHERE id = ?', [
              1 + (n % PONTOONS),
              1 + ((n * 7_919) % RECORDS),
            ]),
          );
          longest = Math.max(longest, performance.now() - asked);
        }
      })();
      await services.tasks.idle();
      const took = performance.now() - begun;
      writing = false;
      await writer;
      const over = await services.tasks.view(task.id);
      if (over.state !== 'done') throw new Error(over.message ?? over.state);
      ratios.push({
        what: `${what}: a writer’s longest wait`,
        ratio: longest / took,
        aim: 'a moment',
        detail: `${longest.toFixed(0)} ms of ${(took / 1000).toFixed(0)} s, 1,000,000 records`,
      });
    };
    await measure('a field becomes unique', 'hold', { kind: 'unique', field: 'number' });
    await measure('a field becomes required', 'hold', { kind: 'required', field: 'number' });
    await measure('another type', 'changeFieldType', {
      field: 'number',
      type: 'wholeNumber',
      settings: {},
      unconverted: 'refuse',
    });
    return ratios;
  } finally {
    await services.tasks.stop();
    await office.close();
  }
}
