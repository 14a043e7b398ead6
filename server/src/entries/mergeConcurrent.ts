import type { EntryBody, RecordView } from '@fiche/core/api';
import { linePath, type Sent, type SentLineOf } from '@fiche/core/entry';
import type { Problem, Value, Values } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { mergeValues } from '@fiche/core/history';
import { say } from '@fiche/core/languages';
import { type FieldId, typeOf } from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';
import { changedSince } from '../history/index.ts';
import { Refusal } from '../http/index.ts';

type Body = Pick<EntryBody, 'version' | 'values' | 'lines' | 'reasons' | 'picked'>;

/**
 * What a save changes of a record, where somebody else may have changed it meanwhile: different fields merge. Throws 409
 * with the record as it is now, and who wrote the other value of each field that both changed; a person decides.
 */
export async function mergeConcurrent(
  transaction: Transaction,
  form: PreparedForm,
  record: RecordView,
  body: Body,
): Promise<Sent> {
  if (body.version === undefined)
    throw new Refusal(422, say('Say which version of the record you changed.'), [
      { path: 'version', rule: 'required', message: say('Say which version of the record you changed.') },
    ]);
  if (record.archived)
    throw new Refusal(
      409,
      say('{changedBy} has archived this record meanwhile. Nothing of yours is lost: restore it, then save again.', {
        changedBy: record.stamp.changedBy,
      }),
      [],
      { current: record },
    );
  const problems: Problem[] = [];
  const values = await merged(transaction, form, record, body.version, body.values, (field) => field, problems);
  const lines: Record<string, SentLineOf[]> = {};
  for (const [id, sent] of Object.entries(body.lines ?? {})) {
    const subform = form.subforms.get(id);
    lines[id] = [];
    for (const line of sent) {
      const stored = record.lines?.[id]?.find((one) => one.id === line.id);
      // What somebody has just changed is not archived unseen.
      if (stored && line.archived && line.version !== stored.version)
        problems.push({
          path: linePath({ subform: id, key: line.key }, ''),
          rule: 'version',
          message: stored.stamp.changedBy,
        });
      const changed =
        subform && stored && line.values && line.version !== undefined && line.version !== stored.version
          ? await merged(
              transaction,
              subform.form,
              stored,
              line.version,
              line.values,
              (field) => linePath({ subform: id, key: line.key }, field),
              problems,
            )
          : line.values;
      const { version, ...rest } = line;
      lines[id].push({ ...rest, values: changed });
    }
  }
  if (problems.length > 0)
    throw new Refusal(
      409,
      say(
        '{changedBy} has changed this record while you had it open. Nothing of yours is lost: decide which values stand, then save again.',
        { changedBy: record.stamp.changedBy },
      ),
      problems,
      { current: record },
    );
  return { values, lines, reasons: body.reasons, picked: body.picked };
}

/** The values to write over a record: all that were sent, or what merges with what was saved since. */
async function merged(
  transaction: Transaction,
  form: PreparedForm,
  record: RecordView,
  version: number,
  sent: Readonly<Record<string, unknown>>,
  pathOf: (field: FieldId) => string,
  problems: Problem[],
): Promise<Readonly<Record<string, unknown>>> {
  if (record.version === version) return sent;
  const { base, by } = await changedSince(transaction, form.table, record, version);
  // What cannot be read is left to the decision, which says so at its place.
  const mine: Record<string, Value> = {};
  const unread: Record<string, unknown> = {};
  for (const [id, json] of Object.entries(sent)) {
    const field = form.fields.get(id)?.field;
    const read = field && typeOf(field).accept(json === '' ? null : json, field.settings);
    if (read?.ok) mine[id] = read.value;
    else unread[id] = json;
  }
  const { values, conflicts } = mergeValues(base, mine, record.values as Values);
  for (const field of conflicts)
    problems.push({ path: pathOf(field), rule: 'version', message: by.get(field) ?? record.stamp.changedBy });
  return { ...values, ...unread };
}
