import { afterSaveOf, feedingWords, startsOf, viewsOfForm } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import type { Role } from '../rights/index.ts';
import { type FieldId, type RecordId, type TableId, type Tables, targetTable } from '../tables/index.ts';
import { periodSettings } from '../views/index.ts';
import { readingsOfForm, type UsedForm } from './ofForm.ts';
import { readingsOfCalendar, readingsOfLabels, type UsedCalendar, type UsedLabels } from './ofLabels.ts';
import { readingsOfRole } from './ofRole.ts';
import { readingsOfTable } from './ofTable.ts';
import { readingsOfView, type UsedView } from './ofView.ts';
import { fieldsAlong, type Reading, type UsePlace } from './reading.ts';

/** What is looked for: a field, one option of a choice field, a record that a link is compared with, a table, a view, or a form. */
export type UsedThing =
  | { readonly kind: 'field'; readonly table: TableId; readonly field: FieldId }
  | { readonly kind: 'option'; readonly table: TableId; readonly field: FieldId; readonly option: string }
  | { readonly kind: 'record'; readonly table: TableId; readonly record: RecordId }
  | { readonly kind: 'table'; readonly table: TableId }
  | { readonly kind: 'view'; readonly view: number }
  | { readonly kind: 'form'; readonly form: string };

/** The definitions of one cabinet, among which uses are looked for. */
export interface UsedWorld {
  readonly tables: Tables;
  readonly forms: readonly UsedForm[];
  readonly views: readonly UsedView[];
  readonly roles: readonly Role[];
  readonly labels: readonly UsedLabels[];
  readonly calendars: readonly UsedCalendar[];
}

/** A place where something is used, with all that it is used for there. */
export interface Use {
  readonly place: UsePlace;
  readonly words: readonly string[];
}

/**
 * Where a thing is used: the forms, tables, views, roles, labels and calendars of its cabinet that read it, each once, with what for. A table's
 * own fields do not count as uses of the table.
 */
export function usesOf(thing: UsedThing, world: UsedWorld): Use[] {
  const found = thing.kind === 'view' || thing.kind === 'form' ? namedUses(thing, world) : readUses(thing, world);
  const byPlace = new Map<string, { place: UsePlace; words: Set<string> }>();
  for (const { place, words } of found) {
    const key = `${place.kind} ${place.id}`;
    const known = byPlace.get(key) ?? { place, words: new Set<string>() };
    byPlace.set(key, { ...known, words: known.words.add(words) });
  }
  return [...byPlace.values()].map(({ place, words }) => ({ place, words: [...words] }));
}

type Named = Pick<Reading, 'place' | 'words'>;

function readUses(thing: Extract<UsedThing, { table: TableId }>, world: UsedWorld): Named[] {
  const { tables, forms, views, roles, labels, calendars } = world;
  const readings = [
    ...[...tables.values()].flatMap((table) => readingsOfTable(table, tables)),
    ...forms.flatMap((form) => readingsOfForm(form, forms, tables)),
    ...views.flatMap((view) => readingsOfView(view, tables)),
    ...roles.flatMap(readingsOfRole),
    ...labels.flatMap(readingsOfLabels),
    ...calendars.flatMap((calendar) => readingsOfCalendar(calendar, tables)),
  ];
  return readings.filter(({ place, table, path, constant }) => {
    if (thing.kind === 'table') return table === thing.table && path === undefined && place.id !== thing.table;
    const along = path === undefined ? [] : fieldsAlong(tables, table, path);
    if (thing.kind === 'field') return along.some((one) => one.table === thing.table && one.field.id === thing.field);
    const last = along.at(-1);
    const holds = (value: string | number): boolean => [constant].flat().includes(value);
    if (thing.kind === 'record') return holds(thing.record) && targetTable(last?.field) === thing.table;
    return holds(thing.option) && last?.table === thing.table && last.field.id === thing.field;
  });
}

function namedUses(
  thing: Extract<UsedThing, { kind: 'view' | 'form' }>,
  { tables, forms, roles, views }: UsedWorld,
): Named[] {
  const ofForms = forms.flatMap(({ id, draft, live }): Named[] => {
    const place: UsePlace = { kind: 'form', id, label: draft.label };
    return [draft, ...(live ? [live] : [])].flatMap((version): Named[] => {
      if (thing.kind === 'view')
        return viewsOfForm(version, tables)
          .filter((use) => use.view === thing.view)
          .map((use) => ({ place, words: feedingWords(use) }));
      const after = afterSaveOf(version);
      return [
        ...(after.kind === 'form' && after.form === thing.form ? [{ place, words: say('what follows a save') }] : []),
        ...startsOf(version)
          .filter((start) => start.form === thing.form)
          .map(({ label }) => ({ place, words: say('the button {label}', { label }) })),
      ];
    });
  });
  const ofRoles =
    thing.kind === 'form'
      ? roles
          .filter((role) => role.closedForms.includes(thing.form))
          .map(
            (role): Named => ({
              place: { kind: 'role', id: role.id, label: role.label },
              words: say('does not get it'),
            }),
          )
      : [];
  const ofViews =
    thing.kind === 'form'
      ? views
          .filter(({ listing }) => periodSettings(listing.shown)?.form === thing.form)
          .map(({ id, table, label }): Named => {
            const place: UsePlace = { kind: 'view', id: String(id), label, table };
            return { place, words: say('where its records open') };
          })
      : [];
  return [...ofForms, ...ofRoles, ...ofViews];
}
