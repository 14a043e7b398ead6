import type { Period } from '@fiche/core/calendar';
import { fieldType } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';

/** A day or a moment as the office writes it. */
export const civilText = (civil: string): string =>
  civil.length === 10 ? fieldType('date').format(civil, {}) : fieldType('dateTime').format(civil, {});

/** From when to when a period lasts, in words; `ends` where records of its table end. */
export function timeText({ start, end }: Pick<Period, 'start' | 'end'>, ends: boolean): string {
  if (end !== null) return say('{start} to {end}', { start: civilText(start), end: civilText(end) });
  return ends ? say('from {start}, without an end', { start: civilText(start) }) : civilText(start);
}

/** What is written on a period. */
export const nameOf = ({ label, title }: Period): string => label ?? title;

/** Whether a rule of a table refuses records that overlap in the same lane. */
export const refusesOverlap = (
  table: TableDefinition,
  { start, end, lane }: { readonly start: string; readonly end: string | null; readonly lane: string },
): boolean =>
  table.constraints.some(
    (one) => one.kind === 'noOverlap' && one.from === start && one.to === end && one.same.every((id) => id === lane),
  );
