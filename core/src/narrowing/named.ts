import type { Choice } from './narrowing.ts';

/** The choices that a typed text finds: every word of it, in the title or in a column shown beside it. */
export function choicesFound(choices: readonly Choice[], text: string): Choice[] {
  const words = text
    .toLowerCase()
    .split(/\s+/)
    .filter((word) => word !== '');
  return choices.filter((one) =>
    words.every((word) => [one.title, ...one.shown].some((shown) => shown.toLowerCase().includes(word))),
  );
}

/**
 * The choice that a text means, or null: the one that is called so. With `near`, as for what a person types and leaves,
 * else the first that it finds; without, as for what is pasted, none rather than one of several of the same title.
 */
export function choiceMeant(choices: readonly Choice[], text: string, near: boolean): Choice | null {
  const title = text.trim().toLowerCase();
  const called = choices.filter((one) => one.title.toLowerCase() === title);
  if (near) return called[0] ?? choicesFound(choices, text)[0] ?? null;
  return called.length === 1 ? (called[0] ?? null) : null;
}
