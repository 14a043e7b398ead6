import type { MadeLines } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { newFieldSchema, type TableId } from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { addField } from './addField.ts';
import { changeTable, createTable, tableNow } from './store.ts';

/**
 * Makes a table for lines of the records of another: an item, a quantity, a price, and their amount, with a field in the
 * other table for the total of all amounts. As the owner, in a transaction.
 */
export async function makeLines(owner: Transaction, tableId: TableId, label: string): Promise<MadeLines> {
  const before = await tableNow(owner, tableId);
  const { currency } = (await loadDefinitions(owner)).office;
  const { id } = await createTable(owner, before.cabinet, label, say('Lines of {label}.', { label: before.label }));
  const add = async (to: string, field: object) => {
    const table = await addField(owner, to, newFieldSchema.parse(field));
    return { table, id: table.fields.at(-1)?.id ?? '' };
  };
  const money = { type: 'amount', settings: { currency } };
  const link = await add(id, { label: before.label, type: 'link', settings: { table: tableId }, required: true });
  const item = await add(id, { label: say('Item'), type: 'text' });
  const quantity = await add(id, { label: say('Quantity'), type: 'decimal', settings: { places: 2 } });
  const price = await add(id, { label: say('Price'), ...money });
  const amount = await add(id, { label: say('Amount'), ...money, calculation: `${quantity.id} * ${price.id}` });
  const lines = await changeTable(owner, id, { title: `{${item.id}}` });
  const total = await add(tableId, { label: say('{label} total', { label }), ...money });
  return { table: total.table, total: total.id, lines, link: link.id, amount: amount.id };
}
