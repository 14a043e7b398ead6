import { isIndexed, isNumbered, linksSeveral, namesPeople } from '@fiche/core/fields';
import { quoted, relation } from '@fiche/core/queries';
import { type FieldDefinition, linkedTable, type TableId, typeOf } from '@fiche/core/tables';
import { heldName } from '../constraints/index.ts';
import { APP_ROLE, type Transaction } from '../database/index.ts';

/** Adds a field's column, with the foreign keys and indexes that it needs. As the owner, in a transaction. */
export const makeColumn = (owner: Transaction, tableId: TableId, field: FieldDefinition): Promise<void> =>
  makeColumns(owner, tableId, [field]);

/** The same for several, of which at most `ordered` text columns are kept in order. */
export async function makeColumns(
  owner: Transaction,
  tableId: TableId,
  fields: readonly FieldDefinition[],
  ordered = Number.POSITIVE_INFINITY,
): Promise<void> {
  const place = relation(tableId);
  const columns = fields.map((field) => `ADD COLUMN ${quoted(field.id)} ${typeOf(field).column(field.settings)}`);
  await owner.raw(`ALTER TABLE ${place} ${columns.join(', ')}`);
  await owner.raw('SELECT ledger.capture_records(?)', [tableId]);
  for (const field of fields.filter((one) => isNumbered(one))) await numberRecords(owner, tableId, field);
  const editable = fields.filter((field) => typeOf(field).editable).map((field) => quoted(field.id));
  if (editable.length > 0) {
    const list = editable.join(', ');
    await owner.raw(`GRANT INSERT (${list}), UPDATE (${list}) ON ${place} TO ${APP_ROLE}`);
  }
  for (const field of fields) await bindColumn(owner, tableId, field);
  const indexes = fields.flatMap((field) => indexesOf(tableId, field));
  const kept = indexes.filter((sql, at) => sql.includes('UNIQUE') || at < ordered);
  for (const sql of kept) await owner.raw(sql);
}

/** What stands behind a column that links: foreign keys, pairs, and the refusal of circles. */
async function bindColumn(owner: Transaction, tableId: TableId, field: FieldDefinition): Promise<void> {
  const place = relation(tableId);
  const column = quoted(field.id);
  const target = linkedTable(field);
  if (target !== undefined) {
    await owner.raw(
      `ALTER TABLE ${place} ADD FOREIGN KEY (${column}) REFERENCES ${relation(target)} ON DELETE RESTRICT`,
    );
    await owner.raw(`CREATE INDEX ON ${place} (${column})`);
    await refuseCircles(owner, tableId, field);
  }
  if (namesPeople(field))
    await owner.raw(`ALTER TABLE ${place} ADD FOREIGN KEY (${column}) REFERENCES fiche.account ON DELETE RESTRICT`);
  if (linksSeveral(field))
    await owner.raw('SELECT fiche.make_pairs(?, ?, ?, ?)', [
      tableId,
      field.id,
      String(field.settings.pairs),
      String(field.settings.table),
    ]);
}

/** Makes the database refuse circles of a link to its own table, unless the field allows them. */
export async function refuseCircles(owner: Transaction, tableId: TableId, field: FieldDefinition): Promise<void> {
  if (linkedTable(field) !== tableId || field.settings.circles === true) return;
  const column = quoted(field.id);
  await owner.raw(
    `CREATE TRIGGER ${quoted(`circle_${field.id}`.slice(0, 60))} AFTER INSERT OR UPDATE OF ${column} ON ${relation(tableId)} FOR EACH ROW WHEN (NEW.${column} IS NOT NULL) EXECUTE FUNCTION fiche.refuse_circle('${field.id}')`,
  );
}

/** The indexes that a column has by itself, as statements that work inside and, with CONCURRENTLY, outside a transaction. */
export function indexesOf(tableId: TableId, field: FieldDefinition, column = field.id, concurrently = ''): string[] {
  const place = relation(tableId);
  const statements: string[] = [];
  if (field.unique || isNumbered(field))
    statements.push(
      `CREATE UNIQUE INDEX ${concurrently} ${quoted(heldName(tableId, 'unique', column))} ON ${place} (${quoted(column)})`,
    );
  if (typeOf(field).family === 'text' && isIndexed(field))
    statements.push(
      `CREATE INDEX ${concurrently} ${quoted(heldName(tableId, 'order', column))} ON ${place} (${quoted(column)} COLLATE fiche.natural, id)`,
    );
  return statements;
}

/** Gives new records their sequence number, and those that are there theirs in the order of entry: each with its line. */
async function numberRecords(owner: Transaction, tableId: TableId, field: FieldDefinition): Promise<void> {
  const [place, column, next] = [relation(tableId), quoted(field.id), numberDefault(owner, tableId, field)];
  await owner.raw(`ALTER TABLE ${place} ALTER COLUMN ${column} SET DEFAULT ${next}`);
  await owner.raw(
    `UPDATE ${place} r SET ${column} = n.number FROM (SELECT id, ${next} AS number FROM (SELECT id FROM ${place} ORDER BY id) s) n WHERE n.id = r.id`,
  );
}

function numberDefault(owner: Transaction, tableId: TableId, field: FieldDefinition): string {
  const { prefix, withYear, width, first } = field.settings;
  const counter = `${tableId}_${field.id}`.slice(0, 50);
  return owner
    .raw('fiche.next_number(?, ?, ?, ?, ?)', [counter, String(prefix), Boolean(withYear), Number(width), Number(first)])
    .toQuery();
}
