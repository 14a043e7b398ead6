import { amountWords, measureWords } from '@fiche/core/charts';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { pageCss, textCss } from '../parts/index.ts';
import chartsCss from './charts.module.css';
import { barWords, type DrawnChart, partWords, spanWords } from './drawn.ts';

/** The same as a chart, as a table of its figures. */
export function ChartTable(drawn: DrawnChart) {
  const { heads, rows } = tableOf(drawn);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: the keyboard scrolls it.
    <div className={chartsCss.table} tabIndex={0} role="group" aria-label={say('Figures of the chart')}>
      <Table stickyHeader className={pageCss.list} aria-label={say('Figures of the chart')}>
        <TableHead>
          <TableRow>
            {heads.map((head, at) => (
              <TableCell key={head} scope="col" className={at > 0 ? textCss.numeric : undefined}>
                {head}
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((row) => (
            <TableRow key={row.join()}>
              {row.map((cell, at) => (
                <TableCell key={heads[at]} className={at > 0 ? textCss.numeric : undefined}>
                  {cell}
                </TableCell>
              ))}
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </div>
  );
}

/** The figures of a chart in rows under their heads, as people read them. */
function tableOf(drawn: DrawnChart): { heads: string[]; rows: string[][] } {
  const { chart, figures, table, fieldAt } = drawn;
  const label = (path: string): string => fieldAt(path)?.label ?? path;
  if (figures.kind === 'points' || chart.kind === 'points') {
    if (figures.kind !== 'points' || chart.kind !== 'points') return { heads: [], rows: [] };
    return {
      heads: [label(chart.x), label(chart.y), say('Number of {label}', { label: table.label })],
      rows: figures.cells.map((cell) => [
        spanWords(cell.xs, chart.x, fieldAt),
        spanWords(cell.ys, chart.y, fieldAt),
        formatCount(cell.count),
      ]),
    };
  }
  const { measure } = chart;
  const counts = measure.of === 'count' ? [] : [say('Number of {label}', { label: table.label })];
  return {
    heads: [
      label(chart.path),
      ...figures.parts.map((_, at) => partWords(drawn, at)),
      measureWords(measure, table.label, fieldAt),
      ...counts,
    ],
    rows: [...figures.bars, ...(figures.others ? [figures.others] : [])].map((bar, at) => [
      'values' in bar ? say('{values} others', { values: formatCount(bar.values) }) : barWords(drawn, at),
      ...figures.parts
        .map((_, part) => ('parts' in bar ? (bar.parts?.[part] ?? null) : null))
        .map((amount) => (amount === null ? '' : amountWords(amount, measure, fieldAt))),
      amountWords(bar.amount, measure, fieldAt),
      ...counts.map(() => formatCount(bar.count)),
    ]),
  };
}
