import type { Measure } from '@fiche/core/charts';

/** Of each cell, what a measure is put together from: `n` records, of which `c` have a number. */
export const cellAggregates = ({ of }: Measure, amount: string): string => {
  const parts: Record<Measure['of'], string> = {
    count: '',
    sum: `, sum(${amount}) AS s`,
    average: `, sum(${amount}) AS s, count(${amount}) AS c`,
    least: `, min(${amount}) AS s`,
    most: `, max(${amount}) AS s`,
  };
  return `count(*) AS n${parts[of]}`;
};

/** The measure over several cells. */
export const OVER_CELLS: Readonly<Record<Measure['of'], string>> = {
  count: 'sum(cells.n)',
  sum: 'sum(cells.s)',
  average: 'sum(cells.s) / nullif(sum(cells.c), 0)',
  least: 'min(cells.s)',
  most: 'max(cells.s)',
};
