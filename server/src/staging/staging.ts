import { once } from 'node:events';
import type { Value } from '@fiche/core/fields';
import { quoted } from '@fiche/core/queries';
import { type FieldDefinition, type RecordId, type TableDefinition, typeOf } from '@fiche/core/tables';
import { from as copyFrom } from 'pg-copy-streams';
import type { Database } from '../database/index.ts';

/** A record as it is to be written, with what it was made from. */
export interface StagedRow {
  /** Its place among all rows, from 1. */
  readonly number: number;
  /** What is kept beside the row until it is settled: the cells of a file, the rules that a reason lets it through. */
  readonly beside?: readonly string[];
  /** The record that it changes, and the version of it that was read. */
  readonly record?: RecordId | undefined;
  readonly version?: number | undefined;
  readonly action: 'add' | 'change' | 'skip';
  readonly values: ReadonlyMap<string, Value>;
  /** Where filled values came from; without it, that stays as it is. */
  readonly origins?: object | undefined;
}

/** The fields of a table that a row gives a record: all that the system does not give itself. */
export const stagedFields = (table: TableDefinition): FieldDefinition[] =>
  table.fields.filter((field) => typeOf(field).editable);

/** Makes the table that checked rows wait in until they are written, anew. `staging` is its name in SQL. */
export async function makeStaging(owner: Database, staging: string, fields: readonly FieldDefinition[]): Promise<void> {
  const columns = fields.map((field) => `${quoted(field.id)} ${typeOf(field).column(field.settings)}`).join(', ');
  await owner.raw(`DROP TABLE IF EXISTS ${staging}`);
  // Not logged: after a crash the file is read again.
  await owner.raw(
    `CREATE UNLOGGED TABLE ${staging} ("row#" bigint, "beside#" json, "origins#" jsonb, "record#" bigint, "version#" integer, "action#" text, ${columns})`,
  );
}

/** Rows on their way into the database, by COPY. */
export class Staging {
  private constructor(
    private readonly owner: Database,
    private readonly staging: string,
    private readonly fields: readonly FieldDefinition[],
    private readonly connection: unknown,
    private readonly stream: ReturnType<typeof copyFrom>,
  ) {
    stream.on('error', (error) => {
      this.failed = error;
    });
  }

  private failed: Error | undefined;
  private text = '';
  private over = false;

  static async open(owner: Database, staging: string, fields: readonly FieldDefinition[]): Promise<Staging> {
    const connection = await owner.client.acquireConnection();
    const columns = fields.map((field) => quoted(field.id)).join(', ');
    const stream = connection.query(
      copyFrom(
        `COPY ${staging} ("row#", "beside#", "origins#", "record#", "version#", "action#", ${columns}) FROM STDIN`,
      ),
    );
    return new Staging(owner, staging, fields, connection, stream);
  }

  async write({ number, beside, origins, record, version, action, values }: StagedRow): Promise<void> {
    const json = (of: unknown): string => (of === undefined ? '\\N' : escapeCopy(JSON.stringify(of)));
    const parts = [
      String(number),
      json(beside),
      json(origins),
      ...[record ?? null, version ?? null, action].map(copyText),
    ];
    for (const field of this.fields) parts.push(copyText(values.get(field.id) ?? null));
    this.text += `${parts.join('\t')}\n`;
    if (this.text.length < 256 * 1024) return;
    await this.flush();
  }

  private async flush(): Promise<void> {
    if (this.failed) throw this.failed;
    if (!this.stream.write(this.text)) await once(this.stream, 'drain');
    this.text = '';
  }

  async close(): Promise<void> {
    await this.flush();
    this.stream.end();
    await once(this.stream, 'finish');
    this.over = true;
    await this.owner.client.releaseConnection(this.connection);
  }

  /** Ends without keeping anything. */
  async drop(): Promise<void> {
    if (!this.over) {
      // One that was ended by its lost connection closes no second time.
      if (!this.stream.destroyed) {
        this.stream.destroy(new Error('dropped'));
        await once(this.stream, 'close').catch(() => undefined);
      }
      await this.owner.client.releaseConnection(this.connection);
    }
    await this.owner.raw(`DROP TABLE IF EXISTS ${this.staging}`);
  }
}

const escapeCopy = (text: string): string =>
  text.replace(/[\\\t\n\r]/g, (mark) => ({ '\\': '\\\\', '\t': '\\t', '\n': '\\n', '\r': '\\r' })[mark] ?? mark);

/** A value in COPY's text form; a list as an array literal. */
function copyText(value: Value): string {
  if (value === null) return '\\N';
  if (typeof value !== 'object') return typeof value === 'string' ? escapeCopy(value) : String(value);
  const items = value.map((item) => (typeof item === 'number' ? item : `"${item.replace(/[\\"]/g, '\\$&')}"`));
  return escapeCopy(`{${items.join(',')}}`);
}
