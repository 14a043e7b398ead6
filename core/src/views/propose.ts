import { isPeriodEnd, laneParents } from '../calendar/index.ts';
import { hasCategories, isNumber, isOfTime } from '../charts/index.ts';
import { linksOne } from '../fields/index.ts';
import { type FieldDefinition, linkedTable, type TableDefinition, type Tables, typeOf } from '../tables/index.ts';
import { type Shown, shownSchema } from './shown.ts';

/** When records of a table begin and end, as far as its fields say so: by its rule against overlaps, or by its first two dates. */
function proposePeriod(table: TableDefinition): { start: string; end: string | null } | undefined {
  const rule = overlapsOf(table);
  if (rule) return { start: rule.from, end: rule.to };
  const [start, second] = table.fields.filter(isPeriodEnd);
  if (!start) return undefined;
  const ends = second !== undefined && typeOf(second).family === typeOf(start).family;
  return { start: start.id, end: ends ? second.id : null };
}

/** The rule against overlaps of dates, where a table has one. */
const overlapsOf = (table: TableDefinition) =>
  table.constraints.flatMap((one) => {
    const from = table.fields.find((field) => one.kind === 'noOverlap' && field.id === one.from);
    return one.kind === 'noOverlap' && from && isPeriodEnd(from) ? [one] : [];
  })[0];

/** The fields by which a dropdown of a table is narrowed, as far up as they are narrowed themselves. */
const narrowsField = (table: TableDefinition, field: string): string[] =>
  laneParents(field, (id) => table.fields.find((one) => one.id === id)?.narrowing ?? null).map((one) => one.field);

/** The link whose records get lanes: what must agree in the rule against overlaps, or the first link that narrows no other one. */
function proposeLane(table: TableDefinition): FieldDefinition | undefined {
  const links = table.fields.filter((field) => linksOne(field));
  const same = overlapsOf(table)?.same ?? [];
  const above = links.flatMap((field) => narrowsField(table, field.id));
  return links.find((field) => same.includes(field.id)) ?? links.find((field) => !above.includes(field.id)) ?? links[0];
}

/** What a link says better than a number: the first link that is neither the lane nor what narrows it. */
function proposeLabel(table: TableDefinition): string | null {
  const lane = proposeLane(table)?.id ?? '';
  const around = [lane, ...narrowsField(table, lane)];
  return table.fields.find((field) => linksOne(field) && !around.includes(field.id))?.id ?? null;
}

/** What tells records of the same name apart: the first link of their table, and where that leads. */
function proposeFacts(table: TableDefinition, tables: Tables): string[] {
  const link = table.fields.find((field) => linksOne(field));
  const further = tables.get(linkedTable(link) ?? '')?.fields.find((field) => linksOne(field));
  return link ? [further ? `${link.id}.${further.id}` : link.id] : [];
}

/**
 * How a table could be shown in another way, to begin with: a chart over its first date or of its first field with categories, a
 * calendar of its dates, lanes of what must not overlap. Undefined where none of its fields serve for that.
 */
export function proposeShown(as: Shown['as'], table: TableDefinition, tables: Tables): Shown | undefined {
  switch (as) {
    case 'list':
      return { as };
    case 'chart': {
      const time = table.fields.find(isOfTime);
      const category = table.fields.find((field) => linksOne(field)) ?? table.fields.find(hasCategories);
      const [x, y] = table.fields.filter(isNumber);
      const chart = time
        ? { kind: 'time', path: time.id }
        : category
          ? { kind: 'categories', path: category.id }
          : x && y && { kind: 'points', x: x.id, y: y.id };
      return chart && shownSchema.parse({ as, chart });
    }
    case 'calendar': {
      const period = proposePeriod(table);
      return period && shownSchema.parse({ as, calendar: { ...period, label: proposeLabel(table) } });
    }
    case 'lanes': {
      const period = proposePeriod(table);
      const lane = proposeLane(table);
      const target = tables.get(linkedTable(lane) ?? '');
      if (!period || !lane || !target) return undefined;
      const facts = proposeFacts(target, tables);
      return shownSchema.parse({ as, lanes: { ...period, lane: lane.id, label: proposeLabel(table), facts } });
    }
  }
}
