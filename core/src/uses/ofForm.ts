import { homeOf, tableOfPart, tablesOfForm } from '../destinations/index.ts';
import { type DefinedForm, isField, isSubform, type PlacedField, type Subform, startsOf } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { sourceOf } from '../narrowing/index.ts';
import type { Rule } from '../rules/index.ts';
import { findField, type TableId, type Tables } from '../tables/index.ts';
import {
  type Bases,
  ofField,
  type Reading,
  readingsOfCondition,
  readingsOfExpression,
  type UsePlace,
} from './reading.ts';

/** A form as those that look for uses have it. */
export interface UsedForm {
  readonly id: string;
  readonly draft: DefinedForm;
  readonly live: DefinedForm | null;
}

/** What a form reads of tables: in its published version, in its draft, or in both. */
export function readingsOfForm({ id, draft, live }: UsedForm, forms: readonly UsedForm[], tables: Tables): Reading[] {
  const place: UsePlace = { kind: 'form', id, label: draft.label };
  return [draft, ...(live ? [live] : [])].flatMap((form) =>
    readingsOfVersion(place, form, forms, tablesOfForm(form, tables)).map((one) => atHome(form, one)),
  );
}

/** What a form with destinations reads of its own table under the name of another table’s field, as that field. */
function atHome(form: DefinedForm, reading: Reading): Reading {
  if (!form.destinations || reading.table !== form.table || reading.path === undefined) return reading;
  const [first = '', ...rest] = reading.path.split('.');
  const home = homeOf(form, first);
  return { ...reading, table: tableOfPart(form, home.part), path: [home.field, ...rest].join('.') };
}

/** What the destinations of a form name: their tables, keys, links, and fields that values go to as well. */
function readingsOfDestinations(place: UsePlace, form: DefinedForm): Reading[] {
  const { of = [], links = [], copies = [] } = form.destinations ?? {};
  return [
    ...of.flatMap(({ table, key }) => [
      { place, words: say('a table that it writes to'), table },
      ...key.map((field) => ofField(place, say('what it finds records by'), table, field)),
    ]),
    ...links.map((one) => ofField(place, say('a link that it writes'), tableOfPart(form, one.of), one.field)),
    ...copies.map((one) => ofField(place, say('a value that goes there'), tableOfPart(form, one.of), one.to)),
  ];
}

function readingsOfVersion(place: UsePlace, form: DefinedForm, forms: readonly UsedForm[], tables: Tables): Reading[] {
  const items = form.sections.flatMap((section) => section.items);
  const lines = new Map(items.filter(isSubform).map((one) => [one.id, one.table]));
  const bases: Bases = { form: form.table, lines };
  return [
    { place, words: say('the table that it is over'), table: form.table },
    ...form.sections.flatMap((section) =>
      readingsOfCondition(
        place,
        say('when {label} is shown', { label: section.label || say('a section') }),
        section.shownWhen,
        bases,
      ),
    ),
    ...items.flatMap((item): Reading[] => {
      if (isField(item)) return ofPlaced(place, item, form.table, bases, tables);
      if (isSubform(item)) return ofLines(place, item, form.table, bases, tables);
      return item.kind === 'card' ? [ofField(place, say('a reference card'), form.table, item.of)] : [];
    }),
    ...ofRules(place, form.rules, bases, tables),
    ...readingsOfDestinations(place, form),
    ...startsOf(form).flatMap(({ label, form: other, pairs }): Reading[] => {
      const target = forms.find((one) => one.id === other)?.draft.table;
      return pairs.flatMap(({ from, to }) => [
        ...(from === 'self' ? [] : [ofField(place, say('the button {label}', { label }), form.table, from)]),
        ...(target === undefined ? [] : [ofField(place, say('the button {label}', { label }), target, to)]),
      ]);
    }),
  ];
}

function ofPlaced(place: UsePlace, one: PlacedField, table: TableId, bases: Bases, tables: Tables): Reading[] {
  const field = findField(tables.get(table), one.field);
  const label = one.label ?? field?.label ?? one.field;
  const source = field && sourceOf(field);
  const { narrowing, fill, initial } = one;
  const choices = { ...bases, column: source?.table };
  return [
    ofField(place, say('a field on it'), table, one.field),
    ...(narrowing ? readingsOfCondition(place, say('what narrows {label}', { label }), narrowing.where, choices) : []),
    ...(source && narrowing
      ? [...narrowing.show, ...(narrowing.sort === null ? [] : [narrowing.sort])].map((column) =>
          ofField(place, say('the choices of {label}', { label }), source.table, column),
        )
      : []),
    ...readingsOfCondition(place, say('when {label} is shown', { label }), one.shownWhen, bases),
    ...readingsOfCondition(place, say('when {label} is required', { label }), one.requiredWhen, bases),
    ...readingsOfExpression(place, say('the calculation of {label}', { label }), one.calculation, tables, bases),
    ...(initial?.kind === 'calculation'
      ? readingsOfExpression(place, say('the default of {label}', { label }), initial.source, tables, bases)
      : initial?.kind === 'value'
        ? [{ ...ofField(place, say('the default of {label}', { label }), table, one.field), constant: initial.value }]
        : []),
    ...(fill
      ? [
          { place, words: say('what {label} fills from', { label }), table: fill.table },
          ...(fill.key === null ? [] : [ofField(place, say('what {label} finds by', { label }), fill.table, fill.key)]),
          ...fill.pairs.flatMap(({ from, to }) => [
            ...(from === 'self' ? [] : [ofField(place, say('what {label} fills', { label }), fill.table, from)]),
            ofField(place, say('what {label} fills', { label }), table, to),
          ]),
        ]
      : []),
  ];
}

function ofLines(place: UsePlace, one: Subform, enclosing: TableId, outer: Bases, tables: Tables): Reading[] {
  const bases: Bases = { form: one.table, enclosing };
  return [
    { place, words: say('its lines'), table: one.table },
    ofField(place, say('its lines'), one.table, one.link),
    ...readingsOfCondition(place, say('when its lines are shown'), one.shownWhen, outer),
    ...one.fields.flatMap((field) => ofPlaced(place, field, one.table, bases, tables)),
    ...ofRules(place, one.rules, bases, tables),
  ];
}

/** What rules read, in the words of their messages. */
export const ofRules = (place: UsePlace, rules: readonly Rule[], bases: Bases, tables: Tables): Reading[] =>
  rules.flatMap((rule) => {
    const words = say('the rule “{message}”', { message: rule.message });
    return [
      ...(bases.form === undefined ? [] : [ofField(place, words, bases.form, rule.at)]),
      ...readingsOfCondition(place, words, rule.when, bases),
      ...(rule.must.kind === 'expression'
        ? readingsOfExpression(place, words, rule.must.source, tables, bases)
        : readingsOfCondition(place, words, rule.must, bases)),
    ];
  });
