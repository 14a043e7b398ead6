import { once } from 'node:events';
import type { Value } from '@fiche/core/fields';
import { quoted } from '@fiche/core/queries';
import { type FieldDefinition, typeOf } from '@fiche/core/tables';
import { from as copyFrom } from 'pg-copy-streams';
import type { Database } from '../database/index.ts';
import type { GoodRow } from './rowChecker.ts';

/** The table of an import's good rows. */
export const stagingOf = (id: number): string => `staging."import_${id}"`;

/** The table that an import's good rows wait in, made anew; what was said of earlier rows is forgotten. */
export async function makeStaging(owner: Database, id: number, fields: readonly FieldDefinition[]): Promise<void> {
  const columns = fields.map((field) => `${quoted(field.id)} ${typeOf(field).column(field.settings)}`).join(', ');
  await owner.raw(`DROP TABLE IF EXISTS ${stagingOf(id)}`);
  // Not logged: after a crash the file is read again.
  await owner.raw(
    `CREATE UNLOGGED TABLE ${stagingOf(id)} ("row#" bigint, "cells#" json, "record#" bigint, "version#" integer, "action#" text, ${columns})`,
  );
  await owner('fiche.import_bad_row').where({ import: id }).delete();
}

/** Good rows on their way into the database, by COPY. */
export class Staging {
  private constructor(
    private readonly owner: Database,
    private readonly id: number,
    private readonly fields: readonly FieldDefinition[],
    private readonly keepsCells: boolean,
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

  static async open(
    owner: Database,
    id: number,
    fields: readonly FieldDefinition[],
    keepsCells: boolean,
  ): Promise<Staging> {
    const connection = await owner.client.acquireConnection();
    const columns = fields.map((field) => quoted(field.id)).join(', ');
    const stream = connection.query(
      copyFrom(`COPY ${stagingOf(id)} ("row#", "cells#", "record#", "version#", "action#", ${columns}) FROM STDIN`),
    );
    return new Staging(owner, id, fields, keepsCells, connection, stream);
  }

  async write({ row, action, record, values }: GoodRow): Promise<void> {
    const found = [record?.id ?? null, record?.version ?? null, action].map(copyText);
    const cells = this.keepsCells ? escapeCopy(JSON.stringify(row.cells)) : '\\N';
    const parts = [String(row.number), cells, ...found];
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
    await this.owner.raw(`DROP TABLE IF EXISTS ${stagingOf(this.id)}`);
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

/** Drops the staged rows of files that were sent a week ago and never imported. */
export async function dropOldStaging(owner: Database): Promise<void> {
  const { rows } = await owner.raw<{ rows: { id: number }[] }>(
    `SELECT i.id FROM fiche.import i JOIN pg_tables t ON t.schemaname = 'staging' AND t.tablename = 'import_' || i.id
     WHERE i.at < now() - interval '7 days'`,
  );
  for (const { id } of rows) await owner.raw(`DROP TABLE IF EXISTS ${stagingOf(id)}`);
}
