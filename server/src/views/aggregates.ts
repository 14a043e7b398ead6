import type { Summary } from '@fiche/core/views';

/** The function of PostgreSQL that gives a summary. */
export const AGGREGATES: Readonly<Record<Summary, string>> = {
  filled: 'count',
  sum: 'sum',
  average: 'avg',
  least: 'min',
  most: 'max',
};
