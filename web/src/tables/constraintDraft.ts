import { type Family, isIndexed } from '@fiche/core/fields';
import {
  type Constraint,
  constraintFields,
  constraintKind,
  constraintMisfit,
  constraintSchema,
  type FieldDefinition,
  type SentencePart,
  type TableDefinition,
  typeOf,
} from '@fiche/core/tables';

/** A rule between records while it is written: what its slots hold so far, by the member they set. */
export interface ConstraintDraft {
  readonly kind: Constraint['kind'];
  readonly slots: Readonly<Record<string, string | readonly string[]>>;
  readonly message: string;
}

type SlotPart = Exclude<SentencePart, string>;

/** The words of a kind’s sentence before its first slot, and the rest of it. */
export function openingOf(kind: Constraint['kind']): { opening: string; rest: readonly SentencePart[] } {
  const [first, ...rest] = constraintKind(kind).sentence;
  return { opening: String(first).trim(), rest };
}

/** The fields of a table that fit a slot. */
export const fieldsFor = (
  table: TableDefinition,
  { families }: { readonly families?: readonly Family[] },
): FieldDefinition[] =>
  table.fields.filter((field) => isIndexed(field) && (!families || families.includes(typeOf(field).family)));

/** What a slot holds in the rule: fields as they were picked, a count as a number. */
const memberOf = (part: SlotPart, held: string | readonly string[] | undefined): unknown => {
  if (part.takes === 'fields') return held ?? [];
  if (part.takes === 'count') return /^\s*\d+\s*$/.test(String(held ?? '')) ? Number(held) : undefined;
  return held === undefined || held === '' ? (part.nothing === undefined ? '' : null) : held;
};

/**
 * The rule that a draft says. `missing` is true while a slot that must be filled is empty; `problem` says in words why
 * what was filled in cannot be a rule.
 */
export function readDraft(
  table: TableDefinition,
  { kind, slots, message }: ConstraintDraft,
): { constraint?: Constraint; missing: boolean; problem?: string } {
  const parts = constraintKind(kind).sentence.filter((part) => typeof part !== 'string');
  const members = Object.fromEntries(parts.map((part) => [part.sets, memberOf(part, slots[part.sets])]));
  const missing =
    message.trim() === '' || parts.some((part) => part.nothing === undefined && (slots[part.sets] ?? '').length === 0);
  const fields = parts.flatMap((part) => slots[part.sets] ?? []).join('_');
  const id = `${kind}_${fields}`
    .toLowerCase()
    .replace(/[^a-z0-9_]/g, '')
    .slice(0, 38);
  const read = constraintSchema.safeParse({ kind, id, ...members, message: message.trim() || '…' });
  if (!read.success) {
    const said = read.error.issues.find(({ path }) => (slots[String(path[0])] ?? '').length > 0);
    return { missing, problem: said?.message };
  }
  const problem = constraintFields(read.data).every((field) => field !== '')
    ? constraintMisfit(table, read.data)
    : undefined;
  return { constraint: missing || problem !== undefined ? undefined : read.data, missing, problem };
}
