import { type EventKind, findField, type Ripple, type TableId, type Tables, withoutBefore } from '../tables/index.ts';

/** A ripple with the table whose saves it follows. */
interface Placed {
  readonly table: TableId;
  readonly ripple: Ripple;
}

/** The saves that a ripple makes: of which table, and of which kind; for a change, of which fields. */
function savesOf({ table, ripple }: Placed, tables: Tables) {
  return ripple.effects.flatMap((effect): { table: TableId; kind: EventKind; fields: readonly string[] }[] => {
    if (effect.does === 'message') return [];
    const fields = effect.values.map((one) => one.to);
    if (effect.does === 'add') return [{ table: effect.table, kind: 'added', fields }];
    const link = findField(tables.get(table), withoutBefore(effect.link));
    return link ? [{ table: String(link.settings.table), kind: 'changed', fields }] : [];
  });
}

/**
 * Ripples of which each would set off the next, and the last the first: they would never end. In words, from table to table;
 * undefined where there are none. Ripples that are paused count too: they can be resumed at any time.
 */
export function rippleCircle(tables: Tables): string | undefined {
  const all = [...tables.values()].flatMap((table) =>
    (table.ripples ?? []).map((ripple): Placed => ({ table: table.id, ripple })),
  );
  const next = (one: Placed): Placed[] =>
    savesOf(one, tables).flatMap((save) =>
      all.filter(
        ({ table, ripple: { on, fields } }) =>
          table === save.table &&
          on.includes(save.kind) &&
          // A calculation can move with what is written, so a field that is watched may be one that follows.
          (save.kind !== 'changed' ||
            fields.length === 0 ||
            fields.some((id) => mayMove(tables, table, id, save.fields))),
      ),
    );
  const done = new Set<Placed>();
  const visit = (one: Placed, open: readonly Placed[]): Placed[] | undefined => {
    if (open.includes(one)) return [...open.slice(open.indexOf(one)), one];
    if (done.has(one)) return undefined;
    for (const following of next(one)) {
      const circle = visit(following, [...open, one]);
      if (circle) return circle;
    }
    done.add(one);
    return undefined;
  };
  for (const one of all) {
    const circle = visit(one, []);
    if (circle)
      return circle.map(({ table, ripple }) => `${ripple.label} (${tables.get(table)?.label ?? table})`).join(' → ');
  }
  return undefined;
}

const mayMove = (tables: Tables, table: TableId, id: string, written: readonly string[]): boolean =>
  written.includes(id) || findField(tables.get(table), id)?.calculation !== null;
