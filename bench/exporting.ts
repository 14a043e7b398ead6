import { EXPORT_FORMATS, exportSettingsSchema } from '@fiche/core/exports';
import { plainListing } from '@fiche/core/views';
import { loadDefinitions } from '@fiche/server/definitions/index';
import { writeFile } from '@fiche/server/exports/index';
import { fillBerths, openBenchOffice, type Ratio, surveyBerths } from './office.ts';

const RECORDS = 1_000_000;
const PONTOONS = 20_000;
/** Memory is looked at after so many records. */
const EVERY = 50_000;
const MB = 1024 * 1024;

/** A million records in each format: what memory they take at the end against the beginning, and how long they take. */
export async function exportingBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  const { app, owner, exports } = office.databases;
  try {
    await fillBerths(office.databases, PONTOONS, RECORDS);
    await surveyBerths(office.databases);
    await owner.raw('VACUUM ANALYZE data.quay_berths');
    const { tables } = await loadDefinitions(app);
    const table = tables.get('quay_berths');
    if (!table) throw new Error('There are no berths');
    const listing = plainListing(table);
    const reader = { asking: { account: 'harbourmaster', now: '2026-08-17T09:00' }, limit: null };
    const ratios: Ratio[] = [];
    for (const { name, label } of EXPORT_FORMATS) {
      const settings = exportSettingsSchema.parse({ format: name, ...(name === 'ics' && { begins: 'surveyed' }) });
      const query = { listing, search: '', archived: 'no' as const };
      const file = { table, tables, query, settings, title: 'Berths', publicUrl: '' };
      const used: number[] = [];
      let [bytes, seen] = [0, 0];
      const begun = performance.now();
      const onPage = async (done: number): Promise<void> => {
        if (done - seen < EVERY) return;
        seen = done;
        globalThis.gc?.();
        used.push(process.memoryUsage().rss / MB);
      };
      for await (const part of writeFile(exports, file, reader, onPage)) bytes += part.length;
      const seconds = (performance.now() - begun) / 1_000;
      const half = Math.floor(used.length / 2);
      const mean = (some: readonly number[]): number => some.reduce((sum, one) => sum + one, 0) / some.length;
      ratios.push({
        what: `1,000,000 records as ${label}: memory, last half against first`,
        ratio: mean(used.slice(half)) / mean(used.slice(0, half)),
        aim: '≤ 1.2',
        detail: `${seconds.toFixed(0)} s, ${(bytes / MB).toFixed(0)} MB of file, at most ${Math.max(...used).toFixed(0)} MB of memory`,
      });
    }
    return ratios;
  } finally {
    await office.close();
  }
}
