import { say } from '../languages/index.ts';
import { fieldAtPath, linkedTable, type TableId, type Tables } from '../tables/index.ts';
import { isAuditColumn, isCalculated, isLinkedFrom, type Listing, linkedFromAt, shownReads } from '../views/index.ts';
import { ofField, type Reading, readingsOfCondition, readingsOfExpression, type UsePlace } from './reading.ts';

/** A view as those that look for uses have it. */
export interface UsedView {
  readonly id: number;
  readonly table: TableId;
  readonly label: string;
  readonly listing: Listing;
}

/** What a view reads of its table, and of those that its columns reach. */
export const readingsOfView = ({ id, table, label, listing }: UsedView, tables: Tables): Reading[] =>
  readingsOfListing({ kind: 'view', id: String(id), label, table }, table, listing, tables);

/** What a list reads of its table, and of those that its columns reach. */
export function readingsOfListing(place: UsePlace, table: TableId, listing: Listing, tables: Tables): Reading[] {
  const at = (words: string, path: string): Reading[] => {
    if (isAuditColumn(path) || isCalculated(path)) return [];
    if (!isLinkedFrom(path)) return [{ place, words, table, path }];
    const from = linkedFromAt(tables, table, path);
    if (!from) return [];
    const read = [from.link, ...(from.summed ? [from.summed] : [])].map((field) =>
      ofField(place, words, from.table.id, field.id),
    );
    return [{ place, words, table: from.table.id }, ...read];
  };
  return [
    { place, words: say('the table that it lists'), table },
    ...listing.columns.flatMap(({ path, calculation }) => [
      ...at(say('a column of it'), path),
      ...readingsOfExpression(
        place,
        say('the column {label}', { label: calculation?.label ?? '' }),
        calculation?.source,
        tables,
        { form: table },
      ),
    ]),
    ...readingsOfCondition(place, say('its filter'), listing.filter, { column: table }),
    ...listing.sort.flatMap(({ path }) => at(say('what it is sorted by'), path)),
    ...(listing.group === null ? [] : at(say('what it is grouped by'), listing.group)),
    ...shownReads(listing.shown).flatMap(({ path, words, of }) => {
      const lanes = listing.shown.as === 'lanes' ? fieldAtPath(tables, table, listing.shown.lanes.lane) : undefined;
      const base = of === 'table' ? table : linkedTable(lanes);
      return base === undefined ? [] : of === 'table' ? at(words, path) : [{ place, words, table: base, path }];
    }),
  ];
}
