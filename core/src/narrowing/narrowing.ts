import { z } from 'zod';
import { EVERYTHING, type Group, groupSchema } from '../conditions/index.ts';
import type { Values } from '../fields/index.ts';
import { fieldIdSchema } from '../tables/index.ts';

/** Where a dropdown's choices come from and what narrows them. */
export const narrowingSchema = z.strictObject({
  where: groupSchema.default(EVERYTHING),
  /** Column by which the choices are sorted; the title when null. */
  sort: fieldIdSchema.nullable().default(null),
  /** Further columns shown beside each choice. */
  show: z.array(fieldIdSchema).max(4).default([]),
  /** When only one choice remains, it is chosen by itself. */
  only: z.boolean().default(false),
  /** Staff who may add there can add a new one in place. */
  adds: z.boolean().optional(),
  /** A shared view: of what the conditions leave, only the records that it finds are offered. */
  view: z.int().min(1).nullish(),
});
export interface Narrowing {
  readonly where: Group;
  readonly sort: string | null;
  readonly show: readonly string[];
  readonly only: boolean;
  readonly adds?: boolean | undefined;
  readonly view?: number | null | undefined;
}

/** Columns of a linked record that the form reads, by path within its table: `{ "pontoon": 7, "owner.phone": "…" }`. */
export type Facts = Values;

/** One choice of a dropdown: a linked record, or one word of an option list's level. */
export interface Choice {
  readonly value: string | number;
  readonly title: string;
  readonly facts: Facts;
  readonly shown: readonly string[];
}

export const NOT_NARROWED: Narrowing = { where: EVERYTHING, sort: null, show: [], only: false };
