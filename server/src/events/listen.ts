import type { RecordId, TableId } from '@fiche/core/tables';
import type { DirectConnection } from '../database/index.ts';
import { CHANNEL, type Saved } from './announce.ts';

/** In place of a record: any of its table. */
const ANY = '*';

type Heard = (saved: Saved) => void;

/**
 * Hears what any server saves, over one connection for all who listen. It is opened with the first listener, and again
 * with the next one after it was lost. `onLost` is called then: what is saved meanwhile is heard by nobody.
 */
export class Listener {
  private readonly heard = new Map<string, Set<Heard>>();
  private connection: Promise<DirectConnection> | undefined;
  constructor(
    private readonly connectDirectly: () => Promise<DirectConnection>,
    private readonly onLost: () => void,
  ) {}

  /** Calls `then` for each save of one record, until the returned function is called. */
  async on(table: TableId, record: RecordId | string, then: Heard): Promise<() => void> {
    const key = `${table} ${record}`;
    const those = this.heard.get(key) ?? new Set();
    this.heard.set(key, those.add(then));
    this.connection ??= this.open();
    try {
      await this.connection;
    } catch (error) {
      this.connection = undefined;
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

  private open(): Promise<DirectConnection> {
    const opening: Promise<DirectConnection> = this.connectDirectly().then(async (connection) => {
      // A lost connection says so twice; by then another one may be open.
      const lost = (): void => {
        if (this.connection !== opening) return;
        this.connection = undefined;
        this.onLost();
      };
      connection.on('error', lost);
      connection.on('end', lost);
      connection.on('notification', ({ payload = '' }) => {
        const saved = JSON.parse(payload) as Saved;
        for (const record of [saved.record, ANY])
          for (const then of this.heard.get(`${saved.table} ${record}`) ?? []) then(saved);
      });
      await connection.query(`LISTEN ${CHANNEL}`);
      return connection;
    });
    return opening;
  }

  async close(): Promise<void> {
    const { connection } = this;
    this.connection = undefined;
    this.heard.clear();
    await (await connection?.catch(() => undefined))?.end();
  }
}
