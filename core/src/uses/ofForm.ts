import { homeOf, tableOfPart, tablesOfForm } from '../destinations/index.ts';
import { type DefinedForm, isField, isSubform, type PlacedField, type Subform, startsOf } from '../forms/index.ts';
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
      { place, words: 'a table that it writes to', table },
      ...key.map((field) => ofField(place, 'what it finds records by', table, field)),
    ]),
    ...links.map((one) => ofField(place, 'a link that it writes', tableOfPart(form, one.of), one.field)),
    ...copies.map((one) => ofField(place, 'a value that goes there', tableOfPart(form, one.of), one.to)),
  ];
}

function readingsOfVersion(place: UsePlace, form: DefinedForm, forms: readonly UsedForm[], tables: Tables): Reading[] {
  const items = form.sections.flatMap((section) => section.items);
  const lines = new Map(items.filter(isSubform).map((one) => [one.id, one.table]));
  const bases: Bases = { form: form.table, lines };
  return [
    { place, words: 'the table that it is over', table: form.table },
    ...form.sections.flatMap((section) =>
      readingsOfCondition(place, `when ${section.label || 'a section'} is shown`, section.shownWhen, bases),
    ),
    ...items.flatMap((item): Reading[] => {
      if (isField(item)) return ofPlaced(place, item, form.table, bases, tables);
      if (isSubform(item)) return ofLines(place, item, form.table, bases, tables);
      return item.kind === 'card' ? [ofField(place, 'a reference card', form.table, item.of)] : [];
    }),
    ...ofRules(place, form.rules, bases, tables),
    ...readingsOfDestinations(place, form),
    ...startsOf(form).flatMap(({ label, form: other, pairs }): Reading[] => {
      const target = forms.find((one) => one.id === other)?.draft.table;
      return pairs.flatMap(({ from, to }) => [
        ...(from === 'self' ? [] : [ofField(place, `the button ${label}`, form.table, from)]),
        ...(target === undefined ? [] : [ofField(place, `the button ${label}`, target, to)]),
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
    ofField(place, 'a field on it', table, one.field),
    ...(narrowing ? readingsOfCondition(place, `what narrows ${label}`, narrowing.where, choices) : []),
    ...(source && narrowing
      ? [...narrowing.show, ...(narrowing.sort === null ? [] : [narrowing.sort])].map((column) =>
          ofField(place, `the choices of ${label}`, source.table, column),
        )
      : []),
    ...readingsOfCondition(place, `when ${label} is shown`, one.shownWhen, bases),
    ...readingsOfCondition(place, `when ${label} is required`, one.requiredWhen, bases),
    ...readingsOfExpression(place, `the calculation of ${label}`, one.calculation, tables, bases),
    ...(initial?.kind === 'calculation'
      ? readingsOfExpression(place, `the default of ${label}`, initial.source, tables, bases)
      : initial?.kind === 'value'
        ? [{ ...ofField(place, `the default of ${label}`, table, one.field), constant: initial.value }]
        : []),
    ...(fill
      ? [
          { place, words: `what ${label} fills from`, table: fill.table },
          ...(fill.key === null ? [] : [ofField(place, `what ${label} finds by`, fill.table, fill.key)]),
          ...fill.pairs.flatMap(({ from, to }) => [
            ...(from === 'self' ? [] : [ofField(place, `what ${label} fills`, fill.table, from)]),
            ofField(place, `what ${label} fills`, table, to),
          ]),
        ]
      : []),
  ];
}

function ofLines(place: UsePlace, one: Subform, enclosing: TableId, outer: Bases, tables: Tables): Reading[] {
  const bases: Bases = { form: one.table, enclosing };
  return [
    { place, words: 'its lines', table: one.table },
    ofField(place, 'its lines', one.table, one.link),
    ...readingsOfCondition(place, 'when its lines are shown', one.shownWhen, outer),
    ...one.fields.flatMap((field) => ofPlaced(place, field, one.table, bases, tables)),
    ...ofRules(place, one.rules, bases, tables),
  ];
}

/** What rules read, in the words of their messages. */
export const ofRules = (place: UsePlace, rules: readonly Rule[], bases: Bases, tables: Tables): Reading[] =>
  rules.flatMap((rule) => {
    const words = `the rule “${rule.message}”`;
    return [
      ...(bases.form === undefined ? [] : [ofField(place, words, bases.form, rule.at)]),
      ...readingsOfCondition(place, words, rule.when, bases),
      ...(rule.must.kind === 'expression'
        ? readingsOfExpression(place, words, rule.must.source, tables, bases)
        : readingsOfCondition(place, words, rule.must, bases)),
    ];
  });
