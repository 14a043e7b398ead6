import type { EntryAnswer } from '@fiche/core/api';
import type { Period } from '@fiche/core/calendar';
import type { Value } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { ServerProblem, send } from '../client/index.ts';
import { useNotify } from '../parts/index.ts';

/** Where a period is moved to. */
export interface Move {
  readonly period: Period;
  readonly to: Pick<Period, 'start' | 'end' | 'lane'>;
  /** The fields that change, with what they become. */
  readonly values: Readonly<Record<string, Value>>;
  /** What takes it back. */
  readonly before: Readonly<Record<string, Value>>;
  /** What was done, in words. */
  readonly words: string;
}

/** Rules that ask for a reason before a move is saved. */
export interface AskedReasons {
  readonly move: Move;
  readonly asked: readonly { readonly rule: string; readonly message: string }[];
}

/**
 * Saves moves by the same rules as the card. A moved period is shown in its new place at once; where it is refused it goes back, and
 * the message says why. `shown` puts the moves that are not answered yet over periods as they were read.
 */
export function useMoves(table: TableDefinition, base: string) {
  const client = useQueryClient();
  const notify = useNotify();
  const [waiting, setWaiting] = useState<ReadonlyMap<number, Move>>(new Map());
  const [asked, setAsked] = useState<AskedReasons>();
  /** The version of each record after its last move, until the periods are read again. */
  const versions = useRef(new Map<number, number>());
  const forget = (id: number): void => setWaiting((all) => new Map([...all].filter(([one]) => one !== id)));

  const save = async (move: Move, reasons: Readonly<Record<string, string>> = {}): Promise<void> => {
    const { id, version } = move.period;
    setWaiting((all) => new Map(all).set(id, move));
    try {
      const saved = await send<EntryAnswer>(
        'POST',
        `${base}/entries`,
        { record: id, version: Math.max(version, versions.current.get(id) ?? 0), values: move.values, reasons },
        { 'idempotency-key': crypto.randomUUID() },
      );
      if (saved.record) versions.current.set(id, saved.record.version);
      notify(
        move.words,
        () =>
          void save({
            ...move,
            to: move.period,
            values: move.before,
            before: move.values,
            words: say('{title} is back where it was.', { title: move.period.title }),
          }),
      );
    } catch (error) {
      const errors = error instanceof ServerProblem ? error.document.errors : [];
      if (errors.length > 0 && errors.every((one) => one.asks)) setAsked({ move, asked: errors });
      else
        notify(
          say('{title} stays where it was: {message}', { title: move.period.title, message: (error as Error).message }),
        );
    } finally {
      await client.invalidateQueries({ queryKey: ['records', table.id] });
      forget(id);
    }
  };
  return {
    save: (move: Move): void => void save(move),
    asked,
    /** Saves with the reasons that a person gave, by rule; without, the period stays where it was. */
    answer(reasons: Readonly<Record<string, string>> | undefined): void {
      setAsked(undefined);
      if (asked && reasons) void save(asked.move, reasons);
    },
    shown: (periods: readonly Period[]): readonly Period[] =>
      waiting.size === 0
        ? periods
        : periods.map((one) => {
            const move = waiting.get(one.id);
            return move ? { ...one, ...move.to } : one;
          }),
  };
}
