import type { Figures } from '@fiche/core/charts';
import { say } from '@fiche/core/languages';
import { recordsOf } from '@fiche/core/queries';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import type { Listing } from '@fiche/core/views';
import type { Database } from '../database/index.ts';
import { Refusal } from '../http/index.ts';
import type { RecordFilter } from '../records/index.ts';
import { conditionsOf, type Reader } from '../views/index.ts';
import { barFigures } from './bars.ts';
import { pointFigures } from './points.ts';

/** The figures of a listing that is shown as a chart, over the records that its filter and the reader’s rights leave. Throws 422 for any other. */
export async function figuresOf(
  database: Database,
  tables: Tables,
  table: TableDefinition,
  { listing, ...filter }: RecordFilter & { readonly listing: Listing },
  reader: Reader,
): Promise<Figures> {
  const { shown } = listing;
  if (shown.as !== 'chart')
    throw new Refusal(422, say('This is not shown as a chart. Choose Chart, then what it shows.'));
  const { where, values } = conditionsOf(tables, table, listing, filter, reader);
  const found = { from: `${recordsOf(tables, table.id)} r`, where: where.join(' AND '), values };
  return shown.chart.kind === 'points'
    ? pointFigures(database, tables, table, shown.chart, found)
    : barFigures(database, tables, table, shown.chart, found);
}
