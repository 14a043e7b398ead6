import type { EntryBody, RecordView } from '@fiche/core/api';
import type { PreparedForm } from '@fiche/core/forms';
import { civilNow } from '@fiche/core/office';
import { filledFromHidden } from '@fiche/core/rights';
import type { FieldId } from '@fiche/core/tables';
import { requireRecords } from '../access/index.ts';
import type { Transaction } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { Refusal } from '../http/index.ts';
import { findSeen, linesOfForm } from '../records/index.ts';

type Sent = Pick<EntryBody, 'record' | 'version' | 'values' | 'reasons' | 'picked' | 'lines'>;

interface Limited {
  readonly form: PreparedForm;
  readonly body: Sent;
  readonly definitions?: Definitions;
}

/**
 * What was sent, without the blanks in fields that something unseen by the caller gives a value: these are left to the
 * server. A value that the record has and the caller blanked stays blanked.
 */
export function leftToServer({ form, body, definitions }: Limited, record: RecordView | null): Sent {
  if (!definitions?.seen || definitions.tables === definitions.seen.whole.tables) return body;
  const { role } = definitions.seen;
  const without = (
    values: EntryBody['values'],
    given: ReadonlySet<FieldId>,
    before: Readonly<Record<string, unknown>>,
  ): EntryBody['values'] =>
    Object.fromEntries(
      Object.entries(values).filter(
        ([id, value]) => !(given.has(id) && (value === null || value === '') && (before[id] ?? null) === null),
      ),
    );
  const lines = Object.entries(body.lines ?? {}).map(([id, sent]) => {
    const subform = form.subforms.get(id);
    const given = subform ? filledFromHidden(role, subform.form) : new Set<FieldId>();
    return [id, sent.map((line) => (line.values ? { ...line, values: without(line.values, given, {}) } : line))];
  });
  return {
    ...body,
    values: without(body.values, filledFromHidden(role, form), record?.values ?? {}),
    ...(body.lines ? { lines: Object.fromEntries(lines) } : {}),
  };
}

/** Checks that the caller may change the record that was sent, and each of its lines. Throws 403 and 404. */
export async function requireChanges(
  transaction: Transaction,
  definitions: Definitions,
  form: PreparedForm,
  body: Sent,
): Promise<void> {
  await requireRecords(transaction, definitions, form.table, 'change', [body.record ?? 0]);
  for (const [id, lines] of Object.entries(body.lines ?? {})) {
    const table = form.subforms.get(id)?.form.table;
    if (!table) continue;
    const ids = (archived: boolean): number[] =>
      lines.flatMap((line) =>
        line.id !== undefined && (line.archived === true) === archived && (archived || line.values) ? [line.id] : [],
      );
    await requireRecords(transaction, definitions, table, 'change', ids(false));
    await requireRecords(transaction, definitions, table, 'archive', ids(true));
  }
}

/** Throws what a merge was refused with, its present record as the caller sees it. */
export async function hideCurrent(
  transaction: Transaction,
  { form, body, definitions }: Limited,
  error: unknown,
): Promise<never> {
  const tables = definitions?.tables ?? form.tables;
  if (!(error instanceof Refusal) || error.more.current === undefined || tables === form.tables) throw error;
  const wanted = (field: { readonly id: FieldId }) => form.fields.get(field.id)?.factPaths ?? [];
  const record = await findSeen(transaction, tables, form.table.id, body.record ?? 0, wanted);
  const current = record && {
    ...record,
    lines: await linesOfForm(transaction, form, record.id, {
      asking: definitions?.seen?.asking ?? { account: '', now: civilNow() },
      tables,
    }),
  };
  throw new Refusal(error.status, error.message, error.errors, current ? { current } : {});
}
