import { setTimeout as wait } from 'node:timers/promises';
import type { TaskView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { TableId } from '@fiche/core/tables';
import type { Actor, RolePools } from '../database/index.ts';
import { notFound, Refusal, retryAfter } from '../http/index.ts';

/** What work is given: its plan, and how it reports. */
export interface Work {
  readonly databases: RolePools;
  readonly id: number;
  readonly cabinet: string;
  readonly table: TableId | null;
  readonly plan: unknown;
  readonly actor: Actor;
  /** Tells how far it is, and throws Cancelled when somebody wants it stopped. Cheap: asks the database now and then. */
  progress(done: number, total?: number): Promise<void>;
}

/** Does one kind of work; what it returns is kept as its outcome. It has to leave nothing half done when it throws. */
export type Worker = (work: Work) => Promise<Readonly<Record<string, unknown>> | undefined>;

export class Cancelled extends Error {}

interface Row {
  id: number;
  cabinet: string;
  table_id: string | null;
  kind: string;
  label: string;
  plan: unknown;
  account: string;
  at: string;
  state: TaskView['state'];
  done: number;
  total: number | null;
  message: string | null;
  outcome: Record<string, unknown> | null;
  cancelling: boolean;
}

export interface NewTask {
  readonly cabinet: string;
  /** What it works on, a table or a file: one such work at a time. */
  readonly table?: TableId;
  readonly kind: string;
  readonly label: string;
  readonly plan: object;
  readonly account: string;
}

/** Seconds without a sign of life after which another server takes a task up. */
const SILENCE = 20;
const REPORT_EVERY = 250;
const BEAT_EVERY = 4_000;
/** So long, in ms, it takes until the end of a task is noted again where the database was away. */
const NOTE_AGAIN = 500;

const viewOf = (row: Row): TaskView => ({
  id: row.id,
  kind: row.kind,
  label: row.label,
  table: row.table_id,
  account: row.account,
  at: row.at,
  state: row.state,
  done: row.done,
  total: row.total,
  message: row.message,
  outcome: row.outcome,
  cancelling: row.cancelling,
});

const COLUMNS =
  'id, cabinet, table_id, kind, label, plan, account, at, state, done, total, message, outcome, cancelling';

/** Takes up work that outlasts a request. Several servers share it; a task that a dead one left is begun again. */
export class Tasks {
  private readonly here = new Map<number, Promise<void>>();
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly databases: RolePools,
    private readonly workers: Readonly<Record<string, Worker>>,
    /** Called with each task that has ended, however it did. */
    private readonly onOver: (task: number) => Promise<void> = async () => undefined,
  ) {}

  /** Begins a task at once and waits a little for it: quick work is over with the answer. Throws 409 while another is at the table. */
  async begin(task: NewTask, patience = 1_500): Promise<TaskView> {
    const { owner } = this.databases;
    const id = await owner
      .raw<{ rows: { id: number }[] }>(
        `INSERT INTO fiche.task (cabinet, table_id, kind, label, plan, account, state, beat_at) VALUES (?, ?, ?, ?, ?, ?, 'running', now()) RETURNING id`,
        [task.cabinet, task.table ?? null, task.kind, task.label, JSON.stringify(task.plan), task.account] as string[],
      )
      .then(({ rows }) => rows[0]?.id ?? 0)
      .catch(async (error: { constraint?: string }) => {
        if (error.constraint !== 'one_work_at_a_time') throw error;
        const busy = await owner('fiche.task')
          .where({ table_id: task.table ?? '' })
          .whereIn('state', ['waiting', 'running'])
          .first('account', 'label');
        throw new Refusal(
          409,
          say('{account} is at work on this just now ({label}). Wait until that is over, or cancel it.', {
            account: busy?.account ?? 'Somebody',
            label: busy?.label ?? 'almost done',
          }),
        );
      });
    const over = this.run(id);
    let timer: NodeJS.Timeout | undefined;
    await Promise.race([over, new Promise((resolve) => (timer = setTimeout(resolve, patience)))]);
    clearTimeout(timer);
    return this.view(id);
  }

  async view(id: number, cabinet?: string): Promise<TaskView> {
    const { rows } = Number.isSafeInteger(id)
      ? await this.databases.app.raw<{ rows: Row[] }>(`SELECT ${COLUMNS} FROM fiche.task WHERE id = ?`, [id])
      : { rows: [] };
    const [row] = rows;
    if (!row || (cabinet !== undefined && row.cabinet !== cabinet)) throw notFound(say('This task'));
    return viewOf(row);
  }

  /** Work that is not over, and what was over in the last day. */
  async list(cabinet: string): Promise<TaskView[]> {
    const { rows } = await this.databases.app.raw<{ rows: Row[] }>(
      `SELECT ${COLUMNS} FROM fiche.task WHERE cabinet = ? AND (state IN ('waiting', 'running') OR at > now() - interval '1 day') ORDER BY id DESC LIMIT 50`,
      [cabinet],
    );
    return rows.map(viewOf);
  }

  /** Asks a task to stop; it does so at its next report, and leaves nothing half done. */
  async cancel(id: number, cabinet: string): Promise<TaskView> {
    await this.view(id, cabinet);
    await this.databases.owner.raw(
      `UPDATE fiche.task SET cancelling = true WHERE id = ? AND state IN ('waiting', 'running')`,
      [id],
    );
    return this.view(id);
  }

  /** Looks for work that a server left behind, now and then. */
  watch(): void {
    const look = (): void => void this.takeUp().catch(() => undefined);
    look();
    this.timer = setInterval(look, (SILENCE * 1_000) / 2);
  }

  /** Takes up every task whose server has gone silent. */
  async takeUp(silence = SILENCE): Promise<void> {
    const { rows } = await this.databases.owner.raw<{ rows: { id: number }[] }>(
      `UPDATE fiche.task SET beat_at = now(), state = 'running' WHERE id IN (
         SELECT id FROM fiche.task WHERE state IN ('waiting', 'running') AND (beat_at IS NULL OR beat_at < now() - make_interval(secs => ?))
         ORDER BY id FOR UPDATE SKIP LOCKED) RETURNING id`,
      [silence],
    );
    for (const { id } of rows) if (!this.here.has(id)) void this.run(id);
  }

  /** Waits until nothing is under way here. */
  async idle(): Promise<void> {
    while (this.here.size > 0) await Promise.allSettled(this.here.values());
  }

  /** Stops looking for work, and waits for what is under way here. */
  async stop(): Promise<void> {
    clearInterval(this.timer);
    await Promise.allSettled(this.here.values());
  }

  private run(id: number): Promise<void> {
    // A task whose end cannot be noted, since the database is gone, stays as it is: it falls silent and is taken up again.
    const work = this.work(id)
      .catch((error: Error) => this.onTrouble?.(error, 'task'))
      .finally(() => this.here.delete(id));
    this.here.set(id, work);
    return work;
  }

  private async work(id: number): Promise<void> {
    const { owner } = this.databases;
    const { rows } = await owner.raw<{ rows: Row[] }>(`SELECT ${COLUMNS} FROM fiche.task WHERE id = ?`, [id]);
    const [row] = rows;
    if (!row) return;
    const beat = setInterval(() => {
      owner.raw('UPDATE fiche.task SET beat_at = now() WHERE id = ?', [id]).catch(() => undefined);
    }, BEAT_EVERY);
    let reported = 0;
    try {
      const worker = this.workers[row.kind];
      if (!worker) throw new Error(`Nobody here can do ${row.kind}`);
      const outcome = await worker({
        databases: this.databases,
        id,
        cabinet: row.cabinet,
        table: row.table_id,
        plan: row.plan,
        actor: { name: row.account, through: { kind: 'tables', label: row.label } },
        progress: async (done, total) => {
          if (Date.now() - reported < REPORT_EVERY) return;
          reported = Date.now();
          const told = await owner.raw<{ rows: { cancelling: boolean }[] }>(
            'UPDATE fiche.task SET done = ?, total = coalesce(?::bigint, total), beat_at = now() WHERE id = ? RETURNING cancelling',
            [done, total ?? null, id] as number[],
          );
          if (told.rows[0]?.cancelling) throw new Cancelled();
        },
      });
      await this.over(id, 'done', null, outcome ?? null);
    } catch (error) {
      if (error instanceof Cancelled)
        await this.over(id, 'cancelled', say('Cancelled. Nothing was left half done.'), null);
      else if (error instanceof Refusal) await this.over(id, 'failed', error.message, { errors: error.errors });
      else
        await this.over(
          id,
          'failed',
          say('Something failed on the server. Nothing was left half done; try again.'),
          null,
        );
      if (!(error instanceof Cancelled || error instanceof Refusal)) this.onTrouble?.(error as Error, row.kind);
    } finally {
      clearInterval(beat);
    }
  }

  /** Told of failures that are nobody's fault but ours. */
  onTrouble?: (error: Error, kind: string) => void;

  private async over(
    id: number,
    state: TaskView['state'],
    message: string | null,
    outcome: object | null,
  ): Promise<void> {
    const note = (): Promise<unknown> =>
      this.databases.owner.raw(
        'UPDATE fiche.task SET state = ?, message = ?, outcome = ?::jsonb, done = coalesce(total, done) WHERE id = ?',
        [state, message, outcome === null ? null : JSON.stringify(outcome), id] as string[],
      );
    // A database that is being restarted is told as soon as it is back, while nobody else takes the task up.
    for (const until = Date.now() + (SILENCE * 1_000) / 2; ; await wait(NOTE_AGAIN))
      try {
        await note();
        break;
      } catch (error) {
        if (Date.now() > until || retryAfter(error as Error) === undefined) throw error;
      }
    // The work is over even where nobody can be told.
    await this.onOver(id).catch((error: Error) => this.onTrouble?.(error, 'telling'));
  }
}
