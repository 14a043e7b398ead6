import { pathsOf } from '../conditions/index.ts';
import { rootOf } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { type Check, called, type Finding } from './finding.ts';

/** Narrowing and shown-when that hang on a field further down the form, or on one that may be hidden. */
export const readsLater: Check = (examined) => {
  const { form } = examined;
  const placed = [...form.fields.values()].filter((field) => field.placed);
  const place = new Map(placed.map((field, at) => [field.id, at]));
  return placed.flatMap((field): Finding[] => {
    const narrowedBy = pathsOf(field.narrowing.where, 'form').map(
      (path) => [say('is narrowed by'), rootOf(path)] as const,
    );
    const shownBy = field.shownWhen
      ? pathsOf(field.shownWhen, 'form').map((path) => [say('is shown depending on'), rootOf(path)] as const)
      : [];
    const seen = new Set<string>();
    return [...narrowedBy, ...shownBy].flatMap(([how, parent]): Finding[] => {
      const at = place.get(parent);
      if (at === undefined || parent === field.id || seen.has(`${how} ${parent}`)) return [];
      seen.add(`${how} ${parent}`);
      const found = (message: string, why: string): Finding => ({
        rule: 'later',
        weight: 'look',
        path: field.id,
        message,
        why,
      });
      const label = called(examined, parent);
      const later = at > (place.get(field.id) ?? 0);
      const hidden = form.fields.get(parent);
      return [
        ...(later
          ? [
              found(
                say('{label} {how} {other}, which comes further down. Move {third} up.', {
                  label: field.label,
                  how,
                  other: label,
                  third: label,
                }),
                say('People fill a form from the top: what depends on it would change behind them.'),
              ),
            ]
          : []),
        ...(hidden?.shownWhen && !hidden.keepHidden
          ? [
              found(
                say('{label} {how} {other}, which is hidden at times and then reads as blank.', {
                  label: field.label,
                  how,
                  other: label,
                }),
                say('While it is hidden, it narrows nothing and shows nothing.'),
              ),
            ]
          : []),
      ];
    });
  });
};
