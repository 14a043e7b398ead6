import type { Group } from '../conditions/index.ts';
import { say } from '../languages/index.ts';
import { sourceOf } from '../narrowing/index.ts';
import { findField, type TableId, type Tables } from '../tables/index.ts';
import { type DefinedForm, isField, isSubform, type PlacedField, type Subform } from './form.ts';
import type { PreparedField, PreparedForm, PreparedSubform } from './prepared.ts';

/** A shared view that forms may be fed by: the records of a table that its filter leaves. */
export interface FeedingView {
  readonly table: TableId;
  readonly filter: Group;
}
export type FeedingViews = ReadonlyMap<number, FeedingView>;

/** Where a form is fed by a view. */
export interface FeedingUse {
  readonly view: number;
  /** The table whose records it has to list. */
  readonly table: TableId;
  /** Where in the definition it is named. */
  readonly path: string;
  /** What it says: which records the form shows, what a dropdown offers, or which lines a subform shows. */
  readonly says: 'records' | 'choices' | 'lines';
  /** The label of the dropdown or subform. */
  readonly of: string;
}

/** `which records it shows`, `what Berth offers`, `which lines Services used shows`. */
export const feedingWords = ({ says, of }: FeedingUse): string =>
  says === 'records'
    ? say('which records it shows')
    : says === 'choices'
      ? say('what {of} offers', { of })
      : say('which lines {of} shows', { of });

/** The views that a form names: the one whose records it shows, and those of its dropdowns, also in its lines. */
export function viewsOfForm(form: DefinedForm, tables: Tables): FeedingUse[] {
  const ofField = (table: TableId, path: string, { field: id, label, narrowing }: PlacedField): FeedingUse[] => {
    const field = findField(tables.get(table), id);
    const source = field && sourceOf(field);
    return narrowing?.view == null
      ? []
      : [{ view: narrowing.view, table: source?.table ?? '', path, says: 'choices', of: label ?? field?.label ?? id }];
  };
  const ofSubform = (one: Subform): FeedingUse[] => [
    ...(one.view == null
      ? []
      : [
          {
            view: one.view,
            table: one.table,
            path: one.id,
            says: 'lines' as const,
            of: one.label ?? tables.get(one.table)?.label ?? one.id,
          },
        ]),
    ...one.fields.flatMap((field) => ofField(one.table, `${one.id}.${field.field}`, field)),
  ];
  const ofFields = form.sections.flatMap((section) =>
    section.items.flatMap((item) => {
      if (isField(item)) return ofField(form.table, item.field, item);
      return isSubform(item) ? ofSubform(item) : [];
    }),
  );
  return [
    ...(form.view == null
      ? []
      : [{ view: form.view, table: form.table, path: 'view', says: 'records' as const, of: form.label }]),
    ...ofFields,
  ];
}

/** A form without the views that it names. */
export function withoutViews(form: DefinedForm): DefinedForm {
  const bare = (one: PlacedField): PlacedField =>
    one.narrowing ? { ...one, narrowing: { ...one.narrowing, view: undefined } } : one;
  return {
    ...form,
    view: null,
    sections: form.sections.map((section) => ({
      ...section,
      items: section.items.map((item) =>
        isField(item)
          ? bare(item)
          : isSubform(item)
            ? { ...item, view: undefined, fields: item.fields.map(bare) }
            : item,
      ),
    })),
  };
}

/** What a dropdown offers that is fed by a view that is not there: nothing. */
const NOTHING: Group = { kind: 'group', match: 'any', of: [] };

/**
 * A form whose dropdowns offer, of what their own conditions leave, only what their view finds, and whose subforms have the
 * lines only that theirs finds. Only the server knows views: a browser asks it for choices and lines.
 */
export function withFeedingViews(form: PreparedForm, views: FeedingViews): PreparedForm {
  const filterOf = (view: number, table: TableId): Group => {
    const found = views.get(view);
    return found?.table === table ? found.filter : NOTHING;
  };
  const fed = (one: PreparedField): PreparedField =>
    one.narrowing.view == null || !one.source
      ? one
      : { ...one, within: filterOf(one.narrowing.view, one.source.table) };
  const fedLines = (one: PreparedSubform): PreparedSubform => {
    const whole = { ...one, form: withFeedingViews(one.form, views) };
    const { view, table } = one.definition;
    return view == null ? whole : { ...whole, within: filterOf(view, table) };
  };
  return {
    ...form,
    fields: new Map([...form.fields].map(([id, one]) => [id, fed(one)])),
    subforms: new Map([...form.subforms].map(([id, one]) => [id, fedLines(one)])),
  };
}
