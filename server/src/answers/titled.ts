import { type EntryState, presentLines } from '@fiche/core/entry';
import { itemsOf, type Value } from '@fiche/core/fields';
import { type RecordId, type TableId, targetTable } from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';
import { titlesOf } from '../records/index.ts';

/** The records that the links of an entry and of its lines name, as table and number. */
function recordsNamed(state: EntryState): { table: TableId; id: RecordId }[] {
  const own = [...state.form.fields.values()].flatMap(({ id, field }) => {
    const table = targetTable(field);
    return table === undefined ? [] : linksIn(state.values[id]).map((record) => ({ table, id: record }));
  });
  const lines = [...state.form.subforms.keys()].flatMap((subform) =>
    presentLines(state, subform).flatMap((line) => recordsNamed(line.state)),
  );
  return [...own, ...lines];
}

const linksIn = (value: Value | undefined): RecordId[] =>
  typeof value === 'number' ? [value] : itemsOf(value).map(Number);

/** An entry whose links have the titles of their records, so that it can be told in words. */
export async function withTitles(transaction: Transaction, state: EntryState): Promise<EntryState> {
  const titles = await titlesOf(transaction, state.form.stored ?? state.form.tables, recordsNamed(state));
  const named = (one: EntryState): EntryState => ({
    ...one,
    linked: Object.fromEntries(
      [...one.form.fields.values()].flatMap(({ id, field }) => {
        const table = targetTable(field);
        const found = linksIn(one.values[id]).flatMap((record) => titles.get(`${table}:${record}`) ?? []);
        if (table === undefined || found.length === 0) return [];
        return [[id, { title: found.join(', '), facts: one.linked[id]?.facts ?? {} }]];
      }),
    ),
    lines: Object.fromEntries(
      Object.entries(one.lines).map(([subform, lines]) => [
        subform,
        lines.map((line) => ({ ...line, state: named(line.state) })),
      ]),
    ),
  });
  return named(state);
}
