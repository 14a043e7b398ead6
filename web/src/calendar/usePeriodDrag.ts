import type { MovedPart, Period } from '@fiche/core/calendar';
import { drag } from 'd3-drag';
import { select } from 'd3-selection';
import { type RefObject, useEffect, useRef } from 'react';

/** What was pressed: a period, or one of its ends, or something empty (`period` is undefined). `At` says where. */
interface Pressed<At> {
  readonly period: Period | undefined;
  readonly part: MovedPart;
  readonly at: At;
}

interface PeriodDragging<At> {
  readonly mayMove: boolean;
  readonly mayAdd: boolean;
  periodOf(id: number): Period | undefined;
  /** Where the pointer is; undefined where it is nowhere of meaning. */
  positionOf(event: MouseEvent): At | undefined;
  /** A period, or the drawing of a new one, is dragged from one place to another. */
  onDrag(pressed: Pressed<At>, to: At): void;
  /** The button was released where the pointer was last. */
  onDrop(): void;
  /** Escape was pressed, or nothing was dragged: all is as it was. */
  onCancel(): void;
}

/** A pointer that moves less than this has clicked, in px. */
const CLICK = 4;

/**
 * Drags periods with the mouse or a pen, at their ends too, and draws new ones over what is empty. One behaviour for all of them, so
 * that none has to listen. Fingers scroll instead: they move a period by its panel.
 */
export function usePeriodDrag<At>(area: RefObject<HTMLElement | null>, given: PeriodDragging<At>): void {
  const latest = useRef(given);
  latest.current = given;
  useEffect(() => {
    const { current: element } = area;
    if (!element) return;
    let pressed: Pressed<At> | undefined;
    let dragged = false;
    const pressedBy = (event: MouseEvent): Pressed<At> | undefined => {
      const { mayMove, mayAdd, periodOf, positionOf } = latest.current;
      const target = event.target as Element;
      const at = positionOf(event);
      if (at === undefined || target.closest('a')) return undefined;
      const bar = target.closest<HTMLElement>('[data-period]');
      if (!bar) return mayAdd ? { period: undefined, part: 'whole', at } : undefined;
      const period = periodOf(Number(bar.dataset.period));
      const edge = target.closest<HTMLElement>('[data-edge]')?.dataset.edge;
      return period && mayMove ? { period, part: edge === 'start' || edge === 'end' ? edge : 'whole', at } : undefined;
    };
    const finish = (drop: boolean): void => {
      pressed = undefined;
      if (drop && dragged) latest.current.onDrop();
      else latest.current.onCancel();
      dragged = false;
    };
    const behaviour = drag<HTMLElement, unknown>()
      .touchable(false)
      .clickDistance(CLICK)
      .filter((event: MouseEvent) => !event.ctrlKey && event.button === 0 && pressedBy(event) !== undefined)
      .on('start', ({ sourceEvent }: { sourceEvent: MouseEvent }) => {
        pressed = pressedBy(sourceEvent);
      })
      .on('drag', ({ sourceEvent }: { sourceEvent: MouseEvent }) => {
        const to = latest.current.positionOf(sourceEvent);
        if (!pressed || to === undefined) return;
        dragged = true;
        latest.current.onDrag(pressed, to);
      })
      .on('end', () => pressed && finish(true));
    select(element).call(behaviour);
    const onKeyDown = (event: KeyboardEvent): void => {
      if (event.key === 'Escape' && pressed) finish(false);
    };
    document.addEventListener('keydown', onKeyDown);
    return () => {
      select(element).on('.drag', null);
      document.removeEventListener('keydown', onKeyDown);
    };
  }, [area]);
}
