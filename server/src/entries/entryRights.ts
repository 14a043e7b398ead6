import type { Contract, EntryBody } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { requireWriteRight } from '../access/index.ts';
import { requireInUse } from '../definitions/index.ts';
import { Refusal } from '../http/index.ts';
import type { AnyCall, Runner } from './runners.ts';

/** Refuses an entry that the role or the form does not allow to add or change, or whose tables are archived. */
export function requireEntryRights(call: AnyCall, contract: Contract, runner: Runner, body: EntryBody): void {
  const changes = body.record !== undefined;
  const corrects = runner.page?.received !== undefined && runner.page.received.record === body.record;
  for (const [id, lines] of Object.entries(body.lines ?? {}))
    for (const line of lines) {
      if (contract.needs === 'nobody' && line.id !== undefined && !corrects)
        throw new Refusal(403, say('A public page adds answers; it cannot change what was sent.'));
      const table = runner.form.subforms.get(id)?.form.table;
      if (contract.needs !== 'fill' || !table) continue;
      if (line.archived || line.id === undefined)
        requireWriteRight(call.definitions, table, line.archived ? 'archive' : 'add');
      else if (line.values) requireWriteRight(call.definitions, table, 'change');
    }
  if (runner.account === null && runner.form.table.kind === 'list')
    throw new Refusal(
      403,
      say('{table} is an option list, which no public page adds to.', { table: runner.form.table.label }),
    );
  const { may, label } = runner.form.definition;
  if (contract.needs === 'nobody' && body.meant !== undefined)
    throw new Refusal(403, say('The office chooses among records that are there already; a public page cannot.'));
  if (contract.needs === 'nobody' && changes !== corrects)
    throw new Refusal(403, say('A public page adds answers; it cannot change what was sent.'));
  if (contract.needs === 'fill') requireWriteRight(call.definitions, runner.form.table, changes ? 'change' : 'add');
  const lines = [...runner.form.subforms.values()].map((one) => one.form.table);
  requireInUse(call.definitions, runner.form.table.cabinet, [runner.form.table, ...lines]);
  const today = runner.mayToday;
  // Whether answers can be corrected, the page says.
  if (corrects) return;
  if (!(changes ? may.change && today.change : may.add && today.add))
    throw new Refusal(
      403,
      changes
        ? say('{form} does not change records.', { form: label })
        : say('{form} does not add records.', { form: label }),
    );
}

/** Throws 422 for an answer from a public page in which nothing was answered. */
export function requireAnswer({ values, lines = {} }: EntryBody): void {
  const said = (given: Readonly<Record<string, unknown>>): boolean =>
    Object.values(given).some(
      (value) => value !== null && value !== '' && !(Array.isArray(value) && value.length === 0),
    );
  if (said(values) || Object.values(lines).some((of) => of.some((line) => said(line.values ?? {})))) return;
  throw new Refusal(422, say('Nothing is answered yet. Answer at least one question, then send.'));
}
