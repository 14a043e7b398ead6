import type { RecordId, TableId } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { CHANNEL, type Saved } from './announce.ts';

/** In place of a record: any of its table. */
const ANY = '*';

type Heard = (saved: Saved) => void;

/** A connection of its own, outside the pool, as the driver gives it. */
interface Line {
  query(sql: string): Promise<unknown>;
  on(event: 'notification' | 'error' | 'end', then: (message: { payload?: string }) => void): void;
  end(): Promise<void>;
}

/**
 * Hears what any server saves, over one connection for all who listen. It is opened with the first listener, and again
 * with the next one after it was lost: who listens meanwhile hears nothing, and asks anew when the browser reconnects.
 */
export class Listener {
  private readonly heard = new Map<string, Set<Heard>>();
  private line: Promise<Line> | undefined;
  constructor(private readonly database: Database) {}

  /** Calls `then` for each save of one record, until the returned function is called. */
  async on(table: TableId, record: RecordId | string, then: Heard): Promise<() => void> {
    const key = `${table} ${record}`;
    const those = this.heard.get(key) ?? new Set();
    this.heard.set(key, those.add(then));
    this.line ??= this.open();
    try {
      await this.line;
    } catch (error) {
      this.line = undefined;
      those.delete(then);
      throw error;
    }
    return () => {
      those.delete(then);
      if (those.size === 0) this.heard.delete(key);
    };
  }

  /** Calls `then` for each save of any record of a table, until the returned function is called. */
  onTable(table: TableId, then: Heard): Promise<() => void> {
    return this.on(table, ANY, then);
  }

  private async open(): Promise<Line> {
    const line = (await this.database.client.acquireRawConnection()) as Line;
    const lost = (): void => {
      this.line = undefined;
    };
    line.on('error', lost);
    line.on('end', lost);
    line.on('notification', ({ payload = '' }) => {
      const saved = JSON.parse(payload) as Saved;
      for (const record of [saved.record, ANY])
        for (const then of this.heard.get(`${saved.table} ${record}`) ?? []) then(saved);
    });
    await line.query(`LISTEN ${CHANNEL}`);
    return line;
  }

  async close(): Promise<void> {
    this.heard.clear();
    await (await this.line?.catch(() => undefined))?.end();
  }
}
