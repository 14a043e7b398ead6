import { z } from 'zod';
import { sayLater } from '../languages/index.ts';

/** What becomes of a calculated number between two amounts: `halfEven` takes the even one where it lies in the middle. */
export const roundingSchema = z.enum(['halfUp', 'halfEven', 'up', 'down']);
export type Rounding = z.infer<typeof roundingSchema>;

/** How each rule is called, in the order in which they are offered. */
export const ROUNDING_WORDS: Readonly<Record<Rounding, string>> = {
  halfUp: sayLater('to the nearest, a half up'),
  halfEven: sayLater('to the nearest, a half to the even'),
  up: sayLater('up'),
  down: sayLater('down'),
};

/** Digits that a double holds exactly: what lies beyond them is an error of binary fractions, such as 0.1 + 0.2. */
const DIGITS = 15;

/**
 * Rounds a number to decimal places, of its size without its sign: 2.345 with two places is 2.35 half up, 2.34 half to
 * the even, 2.35 up and 2.34 down; -2.345 is -2.35 half up. What is too large to have such places stays as it is.
 */
export function roundBy(value: number, places: number, rounding: Rounding): number {
  const size = Math.abs(Number(value.toPrecision(DIGITS)));
  if (!Number.isFinite(value) || size >= 1e15) return value;
  // A shift of the decimal mark in text, as a multiplication would bring errors of its own.
  const shifted = Number(Number(`${size.toFixed(20)}e${places}`).toPrecision(DIGITS));
  const below = Math.floor(shifted);
  const part = shifted - below;
  const raised =
    rounding === 'up'
      ? part > 0
      : rounding === 'down'
        ? false
        : rounding === 'halfEven' && part === 0.5
          ? below % 2 === 1
          : part >= 0.5;
  const rounded = Number(`${below + (raised ? 1 : 0)}e-${places}`);
  return value < 0 && rounded !== 0 ? -rounded : rounded;
}
