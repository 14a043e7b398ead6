import {
  type Destination,
  OWN,
  type PartValues,
  reasonsOfPart,
  tableOfPart,
  valuesByPart,
  writingOrder,
} from '@fiche/core/destinations';
import { changesOf, type EntryState } from '@fiche/core/entry';
import { isBlank, type Values } from '@fiche/core/fields';
import { type DefinedForm, type PreparedForm, readsLink } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { RecordId, TableDefinition, TableId } from '@fiche/core/tables';
import { isPartial, requireRecords, requireWriteRight } from '../access/index.ts';
import type { Actor, Transaction } from '../database/index.ts';
import { decide } from '../deciding/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { prepared, tableForm } from '../forms/index.ts';
import { notFound, unacceptable } from '../http/index.ts';
import { findRecord, insertRecord, updateRecord } from '../records/index.ts';
import { findByKey, keyProblem } from './findByKey.ts';
import { onForm } from './partWords.ts';

/** What is written into the tables of a form with destinations, by whom and when. */
export interface PartsToWrite {
  readonly form: PreparedForm;
  /** The definitions of the cabinet as the caller has them; those of everybody on a public page. */
  readonly definitions: Definitions;
  /** Whether the caller’s rights limit what is written; a public page writes as it was built. */
  readonly limited: boolean;
  readonly actor: Actor;
  readonly account: string | null;
  readonly now: string;
  readonly reasons: Readonly<Record<string, string>> | undefined;
  /** Which of several records with the key of a destination is meant, by destination. */
  readonly meant: Readonly<Record<string, RecordId>> | undefined;
  /** What the person sees who may choose among several; undefined where nobody is asked, as on a public page. */
  readonly choosing: Definitions | undefined;
}

/** One of the records that a form wrote, or found. */
export interface WrittenPart {
  readonly part: string;
  readonly table: TableDefinition;
  readonly record: RecordId;
  readonly did: 'added' | 'found' | 'changed';
  readonly values: Values;
}

/**
 * Writes the records of a form with destinations, each after those that its links point at: finds or adds, links, and holds each
 * to the rules of its table as its own card would. In the transaction of the save, so that all is written or nothing.
 * `writeOwn` writes the form’s own record, with the links that point at the others. Throws 422 with every problem of a
 * record at its field on the form, and 403.
 */
export async function writeParts(
  transaction: Transaction,
  writing: PartsToWrite,
  state: EntryState,
  writeOwn: (values: Values) => Promise<RecordId>,
): Promise<WrittenPart[]> {
  const { definition } = writing.form;
  const ordered = writingOrder(definition);
  if ('circle' in ordered)
    throw unacceptable([{ path: '', rule: 'destination', message: say('The form links its records in a circle.') }]);
  const parts = valuesByPart(definition, changesOf(state));
  const written = new Map<string, WrittenPart>();
  for (const part of ordered.order) {
    const given = parts.get(part);
    if (!given?.given) continue;
    const links = linksOf(definition, part, written);
    const table = tableNow(writing, tableOfPart(definition, part));
    const destination = definition.destinations?.of.find((one) => one.id === part);
    if (!destination) {
      const values = await decideOwn(transaction, writing, table, given.values, links);
      written.set(OWN, { part: OWN, table, record: await writeOwn(values), did: 'added', values });
    } else written.set(part, await writePart(transaction, { ...writing, table, destination }, given, links));
  }
  return [...written.values()];
}

/** The table of one of the records as it is stored. Throws 404. */
function tableNow({ definitions }: PartsToWrite, id: TableId): TableDefinition {
  const table = (definitions.seen?.whole.tables ?? definitions.tables).get(id);
  if (!table) throw notFound(say('A table that this form writes to'));
  return table;
}

/** The links of a record that point at those that were written before it. */
const linksOf = (definition: DefinedForm, part: string, written: ReadonlyMap<string, WrittenPart>): Values =>
  Object.fromEntries(
    (definition.destinations?.links ?? [])
      .filter((one) => one.of === part)
      .flatMap(({ field, to }) => {
        const target = written.get(to);
        return target ? [[field, target.record]] : [];
      }),
  );

/** The form’s own record with its links: held to the rules of its table, which may read what they point at. */
async function decideOwn(
  transaction: Transaction,
  writing: PartsToWrite,
  table: TableDefinition,
  values: Values,
  links: Values,
): Promise<Values> {
  const whole = writing.definitions.seen?.whole ?? writing.definitions;
  const own = prepared(whole, tableForm(whole, table.id));
  if (!Object.keys(links).some((link) => readsLink(own, link))) return { ...values, ...links };
  const state = await decidePart(transaction, { ...writing, part: OWN, table }, { ...values, ...links });
  // What the form has decided stays; what only its table knows comes with it.
  return { ...changesOf(state), ...values, ...links };
}

interface Part extends PartsToWrite {
  readonly part: string;
  readonly table: TableDefinition;
}

/** Decides a record as the card of its table would. Throws 422 with its problems at the fields of the form. */
async function decidePart(
  transaction: Transaction,
  { part, table, form, definitions, account, now, reasons }: Part,
  values: Values,
  record?: RecordId,
): Promise<EntryState> {
  const whole = definitions.seen?.whole ?? definitions;
  const own = prepared(whole, tableForm(whole, table.id));
  const opened =
    record === undefined
      ? null
      : await findRecord(
          transaction,
          own.tables,
          table.id,
          record,
          (field) => own.fields.get(field.id)?.factPaths ?? [],
          true,
        );
  const opening = { account, now, record: opened };
  const said = reasons && reasonsOfPart(part, reasons);
  const { state, problems } = await decide(
    transaction,
    own,
    opening,
    { values, reasons: said },
    definitions.seen?.rows,
  );
  if (problems.length > 0) throw unacceptable(problems.map((one) => onForm(form, part, table, one)));
  return state;
}

type ToWrite = PartsToWrite & { readonly table: TableDefinition; readonly destination: Destination };

async function writePart(
  transaction: Transaction,
  writing: ToWrite,
  { values: entered }: PartValues,
  links: Values,
): Promise<WrittenPart> {
  const { table, destination, definitions, limited } = writing;
  const part = destination.id;
  const values = { ...entered, ...links };
  const found = destination.does === 'add' ? undefined : await findByKey(transaction, writing, values);
  if (found !== undefined && destination.does === 'findOrAdd')
    return { part, table, record: found, did: 'found', values: keyValues(destination, values) };
  if (found !== undefined) return changePart(transaction, writing, found, values);
  if (destination.does === 'findAndChange')
    throw unacceptable([keyProblem(writing, say('there is no such record. Correct it, or ask the office.'))]);
  if (limited) requireWriteRight(definitions, table, 'add');
  const state = await decidePart(transaction, { ...writing, part }, values);
  const { id } = await insertRecord(transaction, writing.actor, table, changesOf(state));
  if (limited && isPartial(definitions, table, 'add'))
    await requireRecords(transaction, definitions, table, 'add', [id]);
  return { part, table, record: id, did: 'added', values: changesOf(state) };
}

/** Changes a record that was found: its blank fields, or all that was entered. */
async function changePart(
  transaction: Transaction,
  writing: ToWrite,
  record: RecordId,
  values: Values,
): Promise<WrittenPart> {
  const { table, destination, definitions, limited, form } = writing;
  if (limited) await requireRecords(transaction, definitions, table, 'change', [record]);
  const tables = form.stored ?? form.tables;
  const before = await findRecord(transaction, tables, table.id, record, undefined, true);
  const wanted = Object.entries(values).filter(
    ([id, value]) =>
      !isBlank(value) &&
      !destination.key.some((one) => one === id) &&
      (destination.over === 'replace' || isBlank(before.values[id] ?? null)),
  );
  if (wanted.length === 0) return { part: destination.id, table, record, did: 'found', values: {} };
  const state = await decidePart(transaction, { ...writing, part: destination.id }, Object.fromEntries(wanted), record);
  const changes = changesOf(state);
  await updateRecord(transaction, table.id, record, changes);
  return { part: destination.id, table, record, did: 'changed', values: changes };
}

const keyValues = ({ key }: Destination, values: Values): Values =>
  Object.fromEntries(key.map((id) => [id, values[id] ?? null]));
