import { type Chart, chartSchema } from '@fiche/core/charts';
import { plainListing } from '@fiche/core/views';
import { figuresOf } from '@fiche/server/charts/index';
import { loadDefinitions } from '@fiche/server/definitions/index';
import { comparing } from './compared.ts';
import { fillBerths, openBenchOffice, type Ratio, surveyBerths } from './office.ts';

const RECORDS = 1_000_000;
const PONTOONS = 20_000;
const ROUNDS = 7;
const compared = comparing('≤ 1.3');
const IN_USE = 'FROM data.quay_berths WHERE archived_at IS NULL';

/** Charts of a million records, against the same sums by plain SQL. */
export async function chartingBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  try {
    const { app, owner } = office.databases;
    await fillBerths(office.databases, PONTOONS, RECORDS);
    await surveyBerths(office.databases);
    await owner.raw('VACUUM ANALYZE data.quay_berths');
    const { tables } = await loadDefinitions(app);
    const table = tables.get('quay_berths');
    if (!table) throw new Error('There are no berths');
    const reader = { asking: { account: 'harbourmaster', now: '2026-08-17T09:00' } };
    const figures = (chart: object) => (): Promise<unknown> => {
      const shown = { as: 'chart' as const, chart: chartSchema.parse(chart) as Chart };
      const listing = { ...plainListing(table), shown };
      return figuresOf(app, tables, table, { search: '', archived: 'no', listing }, reader);
    };
    const sql = (text: string) => async (): Promise<unknown> => app.raw(text);
    return [
      await compared(
        'chart of 1,000,000 records a month',
        figures({ kind: 'time', path: 'surveyed', step: 'month' }),
        sql(`SELECT date_trunc('month', surveyed)::date AS month, count(*) ${IN_USE} GROUP BY 1 ORDER BY 1`),
        ROUNDS,
      ),
      await compared(
        'the same by a link to 20,000 others, the longest bars first',
        figures({ kind: 'categories', path: 'pontoon' }),
        sql(`SELECT pontoon, count(*) ${IN_USE} GROUP BY 1 ORDER BY 2 DESC LIMIT 40`),
        ROUNDS,
      ),
      await compared(
        'the same a month, divided by a link',
        figures({ kind: 'time', path: 'surveyed', step: 'month', stacked: 'pontoon' }),
        sql(`SELECT date_trunc('month', surveyed)::date AS month, pontoon, count(*) ${IN_USE} GROUP BY 1, 2`),
        3,
      ),
    ];
  } finally {
    await office.close();
  }
}
