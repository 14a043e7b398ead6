import { fieldType } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useState } from 'react';
import { pageCss, textCss } from '../parts/index.ts';
import { answerBars } from './answerBars.ts';
import pagesCss from './pages.module.css';

interface AnswersChartProps {
  readonly days: readonly { readonly day: string; readonly count: number }[];
}

const SIZE = { width: 1_000, height: 104 };

/** A day as the office writes it. */
const dayWords = (day: string): string => fieldType('date').format(day, {});

/** How many answers came on each day of the last year: bars, and the same as a table. */
export function AnswersChart({ days }: AnswersChartProps) {
  const [asTable, setAsTable] = useState(false);
  if (days.length === 0) return null;
  const { bars, first, last, highest } = answerBars(days, SIZE);
  return (
    <section aria-label={say('Answers over time')} className={pagesCss.chartBox}>
      {asTable ? (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the keyboard scrolls it.
        <div className={pagesCss.days} tabIndex={0} role="group" aria-label={say('Answers by day')}>
          <Table aria-label={say('Answers by day')} className={pageCss.list}>
            <TableHead>
              <TableRow>
                <TableCell scope="col">{say('Day')}</TableCell>
                <TableCell scope="col" className={textCss.numeric}>
                  {say('Answers')}
                </TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {[...days].reverse().map((one) => (
                <TableRow key={one.day}>
                  <TableCell>{dayWords(one.day)}</TableCell>
                  <TableCell className={textCss.numeric}>{formatCount(one.count)}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </div>
      ) : (
        <>
          <p className={pagesCss.said}>
            {say('At most {count} a day, on {day}', { count: formatCount(highest.count), day: dayWords(highest.day) })}
          </p>
          <svg
            className={pagesCss.chart}
            viewBox={`0 0 ${SIZE.width} ${SIZE.height}`}
            preserveAspectRatio="none"
            role="img"
            aria-label={say('Answers by day from {first} to {last}, at most {count} on {day}', {
              first: dayWords(first),
              last: dayWords(last),
              count: formatCount(highest.count),
              day: dayWords(highest.day),
            })}
          >
            {bars.map((one) => (
              <rect
                key={one.day}
                x={one.x}
                y={SIZE.height - one.height}
                width={one.width}
                height={one.height}
                className={pagesCss.bar}
              />
            ))}
          </svg>
          <p className={pagesCss.said}>
            <span>{dayWords(first)}</span>
            <span>{dayWords(last)}</span>
          </p>
        </>
      )}
      <Button variant="text" onClick={() => setAsTable(!asTable)}>
        {asTable ? say('As a chart') : say('As a table')}
      </Button>
    </section>
  );
}
