import {
  type DefinedForm,
  ENCLOSING,
  type Item,
  isField,
  isSubform,
  itemKey,
  type PreparedField,
  type PreparedForm,
} from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { typeOf } from '@fiche/core/tables';
import type { Edge, EdgeKind } from '@fiche/core/wiring';

/** One line of the outline. */
export interface OutlineLine {
  /** Names it: a field, `#item`, `subform/field`. */
  readonly key: string;
  readonly label: string;
  /** What it is: the word of its type, *reference card*, *lines, as rows*. */
  readonly kind: string;
  readonly required: boolean;
  /** What it does to others, for those who do not see the arcs. */
  readonly wires: string;
  /** A field of a subform’s lines: it stands below its subform, and is not dragged. */
  readonly ofLines: boolean;
}

const VERBS: Record<EdgeKind, string> = {
  narrows: say('narrows'),
  fills: say('fills'),
  shows: say('decides whether to show'),
  checks: say('is checked with'),
  calculates: say('counts in'),
};

const wiresOf = ({ wiring, fields, subforms }: PreparedForm, key: string): string =>
  (wiring.from.get(key) ?? [])
    .map((edge) => `${VERBS[edge.kind]} ${fields.get(edge.to)?.label ?? subforms.get(edge.to)?.label ?? edge.to}`)
    .join(', ');

const asksFor = (field: PreparedField | undefined): boolean => field?.required === true && !field.readOnly;

/** The lines of the outline for one thing of the form: its own, then those of the fields of its lines. */
export function outlineLines(prepared: PreparedForm, item: Item): OutlineLine[] {
  const key = itemKey(item);
  const field = isField(item) ? prepared.fields.get(item.field) : undefined;
  const own = {
    key,
    ...viewOf(prepared, item),
    required: asksFor(field),
    wires: wiresOf(prepared, key),
    ofLines: false,
  };
  const subform = isSubform(item) ? prepared.subforms.get(item.id) : undefined;
  if (!subform) return [own];
  const columns = [...subform.form.fields.values()].filter((one) => one.placed);
  return [
    own,
    ...columns.map((one) => ({
      key: `${subform.id}/${one.id}`,
      label: one.label,
      kind: say(typeOf(one.field).word),
      required: asksFor(one),
      wires: wiresOf(subform.form, one.id),
      ofLines: true,
    })),
  ];
}

function viewOf(prepared: PreparedForm, item: Item): { label: string; kind: string } {
  if (isSubform(item))
    return { label: prepared.subforms.get(item.id)?.label ?? item.id, kind: say('lines, as {as}', { as: item.as }) };
  if (isField(item)) {
    const field = prepared.fields.get(item.field);
    return { label: field?.label ?? item.field, kind: field ? say(typeOf(field.field).word) : 'gone' };
  }
  return item.kind === 'card'
    ? { label: prepared.fields.get(item.of)?.label ?? item.of, kind: say('reference card') }
    : { label: item.text, kind: item.kind };
}

/** Every key of the outline, from top to bottom; a section’s is `§` and its id. */
export const outlineKeys = (definition: DefinedForm, prepared: PreparedForm): string[] =>
  definition.sections.flatMap((section) => [
    `§${section.id}`,
    ...section.items.flatMap((item) => outlineLines(prepared, item).map((line) => line.key)),
  ]);

/** The wires of a form and, into and within its lines, those of their forms. */
export const allEdges = (form: PreparedForm): Edge[] => [
  ...form.wiring.edges,
  ...[...form.subforms.values()].flatMap(({ id, form: lines }) =>
    lines.wiring.edges.map((edge) => ({
      ...edge,
      from: edge.from.startsWith(ENCLOSING) ? edge.from.slice(ENCLOSING.length) : `${id}/${edge.from}`,
      to: `${id}/${edge.to}`,
    })),
  ),
];
