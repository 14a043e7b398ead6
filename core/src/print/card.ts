import { type EntryState, isItemShown, presentLines, showValue } from '../entry/index.ts';
import { type Item, isField, isSubform, type PreparedField } from '../forms/index.ts';
import { cardLines, linkedTable, readCardLine, typeOf } from '../tables/index.ts';

/** A value of a card as it is printed. */
interface PrintedField {
  readonly kind: 'field';
  readonly label: string;
  readonly value: string;
  /** Long text takes the whole width. */
  readonly wide: boolean;
}

/** The lines of a subform as a table of texts. */
interface PrintedLines {
  readonly kind: 'lines';
  readonly label: string;
  readonly columns: readonly { readonly label: string; readonly numeric: boolean }[];
  readonly rows: readonly (readonly string[])[];
}

/** What stands in a section of a printed card, in order. */
export type PrintedBlock =
  | PrintedField
  | PrintedLines
  | { readonly kind: 'heading' | 'note'; readonly text: string }
  | {
      readonly kind: 'card';
      readonly label: string;
      readonly title: string;
      readonly facts: readonly { readonly label: string; readonly value: string }[];
    };

/** A record as it is printed: everything in words, laid out as its form lays it out. */
export interface PrintedCard {
  readonly title: string;
  /** What it is, such as the form *Check-in*. */
  readonly of: string;
  readonly sections: readonly {
    readonly label: string;
    readonly columns: number;
    readonly blocks: readonly PrintedBlock[];
  }[];
  /** Who added and changed it, when; empty where the form does not show it. */
  readonly stamp: string;
  /** The moment that it is shown as of, in words; empty today. */
  readonly asOf: string;
}

/** An opened record as it is printed by its form: what is hidden now is left out, lines and reference cards are in it. */
export function printedSections(state: EntryState): PrintedCard['sections'] {
  return state.form.definition.sections.flatMap((section) => {
    const blocks = section.items.flatMap((item) =>
      isItemShown(state, section, item) ? (blockOf(state, item) ?? []) : [],
    );
    return blocks.length === 0 ? [] : [{ label: section.label, columns: section.columns, blocks }];
  });
}

function blockOf(state: EntryState, item: Item): PrintedBlock | undefined {
  if (isField(item)) {
    const field = state.form.fields.get(item.field);
    return field && fieldBlock(state, field);
  }
  if (isSubform(item)) return linesBlock(state, item.id);
  if (item.kind === 'card') return cardBlock(state, item.of);
  return { kind: item.kind, text: item.text };
}

const isWide = ({ field }: PreparedField): boolean => typeOf(field).long === true;

const fieldBlock = (state: EntryState, field: PreparedField): PrintedBlock => ({
  kind: 'field',
  label: field.label,
  value: showValue(state, field.id),
  wide: isWide(field),
});

function linesBlock(state: EntryState, id: string): PrintedBlock | undefined {
  const subform = state.form.subforms.get(id);
  if (!subform) return undefined;
  const fields = subform.definition.fields.flatMap((one) => subform.form.fields.get(one.field) ?? []);
  return {
    kind: 'lines',
    label: subform.label,
    columns: fields.map(({ label, field }) => ({ label, numeric: typeOf(field).family === 'number' })),
    rows: presentLines(state, id).map((line) =>
      fields.map((field) => (line.state.hidden[field.id] ? '' : showValue(line.state, field.id))),
    ),
  };
}

function cardBlock(state: EntryState, link: string): PrintedBlock | undefined {
  const field = state.form.fields.get(link);
  const table = state.form.tables.get(linkedTable(field?.field) ?? '');
  const linked = state.linked[link];
  if (!field || !table || !linked || state.hidden[link]) return undefined;
  return {
    kind: 'card',
    label: field.label,
    title: linked.title,
    facts: cardLines(state.form.tables, table).map((line) => ({
      label: line.label,
      value: readCardLine(state.form.tables, line, linked.facts),
    })),
  };
}
