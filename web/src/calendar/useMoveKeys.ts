import { isMoved, type Period } from '@fiche/core/calendar';
import { say } from '@fiche/core/languages';
import { type KeyboardEvent, useState } from 'react';
import type { Moving } from './moving.ts';

/** An arrow key: how far across, and how far down. */
export type Arrow = readonly [across: -1 | 0 | 1, down: -1 | 0 | 1];

interface MoveKeys {
  readonly mayMove: boolean;
  readonly moving: Moving | undefined;
  periodOf(id: number): Period | undefined;
  /** Where an arrow takes what is moved: the change in minutes, and another lane; undefined where it goes no further. */
  stepTo(moving: Moving, arrow: Arrow): Partial<Pick<Moving, 'by' | 'lane'>> | undefined;
  /** An arrow goes on from a period to another one. */
  onArrow(period: Period, arrow: Arrow): void;
  onMoving(moving: Moving | undefined): void;
  onMoved(moving: Moving): void;
}

const ARROWS: Readonly<Record<string, Arrow>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/**
 * Keys of periods. Arrows go from one to the next; Space takes one up: then arrows move it, with Shift its end, Enter or Space puts
 * it down, Escape leaves it where it was. `said` tells a screen reader what can be done.
 */
export function useMoveKeys({ mayMove, moving, periodOf, stepTo, onArrow, onMoving, onMoved }: MoveKeys) {
  const [said, setSaid] = useState('');
  const take = (lifted: Moving, arrow: Arrow, end: boolean): void => {
    const part = end ? 'end' : lifted.part;
    // What was moved as a whole is put down before its end is stretched, so that one move does one of both.
    if (part !== lifted.part && lifted.by !== 0) return;
    const next = stepTo({ ...lifted, part }, arrow);
    if (next) onMoving({ ...lifted, part, ...next });
  };
  const onLifted = (lifted: Moving, event: KeyboardEvent): boolean => {
    const arrow = ARROWS[event.key];
    if (arrow) take(lifted, arrow, event.shiftKey);
    else if (event.key === 'Enter' || event.key === ' ') {
      onMoving(undefined);
      setSaid('');
      if (isMoved(lifted)) onMoved(lifted);
    } else if (event.key === 'Escape') {
      onMoving(undefined);
      setSaid(say('It stays where it was.'));
    } else return false;
    return true;
  };
  const onKeyDown = (event: KeyboardEvent<HTMLElement>): void => {
    const bar = (event.target as HTMLElement).closest<HTMLElement>('[data-period]');
    const period = bar ? periodOf(Number(bar.dataset.period)) : undefined;
    if (!period) return;
    const arrow = ARROWS[event.key];
    if (moving?.with === 'keys') {
      if (!onLifted(moving, event)) return;
    } else if (arrow) onArrow(period, arrow);
    else if (event.key === ' ' && mayMove) {
      onMoving({ period, part: 'whole', by: 0, lane: period.lane, with: 'keys' });
      setSaid(
        say('Arrow keys move it, Shift and arrow keys its end. Enter puts it down, Escape leaves it where it was.'),
      );
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return { onKeyDown, said };
}
