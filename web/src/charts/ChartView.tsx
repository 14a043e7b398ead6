import { amountWords, chartWords, type Mark } from '@fiche/core/charts';
import type { Group } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import type { Listing } from '@fiche/core/views';
import Button from '@mui/material/Button';
import { useMemo, useRef, useState } from 'react';
import { Link } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { textCss, useNotify, useSize, Waiting } from '../parts/index.ts';
import { ChartPicture } from './ChartPicture.tsx';
import { ChartTable } from './ChartTable.tsx';
import chartsCss from './charts.module.css';
import { behindMark, type DrawnChart, drawChart, fieldsAt, markWords, recordsWords } from './drawn.ts';
import { savePicture } from './savePicture.ts';
import { type FiguresFilter, useFigures } from './useFigures.ts';

interface ChartViewProps {
  readonly table: TableDefinition;
  /** A listing that is shown as a chart, with the answers to what it asks. */
  readonly listing: Listing;
  readonly filter?: FiguresFilter;
  /** What the chart is called, where it has a name: the title of its picture. */
  readonly name?: string;
  /** It stands among others on Home: smaller, without its table. */
  readonly onHome?: boolean;
  /** Where the records are listed that a condition finds among those of the chart; undefined where they are not. */
  addressOf(where: Group): string | undefined;
}

const HEIGHT = { page: 320, home: 170 } as const;

/** A chart of the records that a listing finds: its picture, whose marks lead to the records, and the same as a table. */
export function ChartView(props: ChartViewProps) {
  const { tables } = useOffice();
  const { table, listing, filter = {} } = props;
  const query = useFigures(table.id, listing, filter);
  const fieldAt = useMemo(() => fieldsAt(tables, table), [tables, table]);
  if (listing.shown.as !== 'chart') return null;
  if (query.isError)
    return (
      <p className={textCss.problem} role="alert">
        {query.error.message}
      </p>
    );
  if (!query.data) return <Waiting what={say('Summing up the records…')} />;
  return <ChartFigure {...props} chart={listing.shown.chart} figures={query.data} fieldAt={fieldAt} />;
}

function ChartFigure({ name, onHome, addressOf, ...drawn }: ChartViewProps & DrawnChart) {
  const { chart, figures, table, fieldAt } = drawn;
  const notify = useNotify();
  const [hovered, setHovered] = useState<Mark>();
  const [box, { width }] = useSize<HTMLDivElement>();
  const picture = useRef<SVGSVGElement>(null);
  const drawing = useMemo(
    () => drawChart({ chart, figures, table, fieldAt }, width, onHome ? HEIGHT.home : HEIGHT.page),
    [chart, figures, table, fieldAt, width, onHome],
  );
  const words = chartWords(chart, table.label, fieldAt);
  const save = (format: 'svg' | 'png'): void => {
    if (picture.current)
      savePicture(picture.current, name ?? words, format).catch((error: Error) => notify(error.message));
  };
  const empty = drawing.marks.length === 0;
  return (
    <section className={onHome ? chartsCss.onHome : chartsCss.chart} aria-label={name ?? words}>
      <div className={chartsCss.head}>
        {!onHome && <span className={chartsCss.what}>{words}</span>}
        <span className={chartsCss.hovered}>
          {hovered ? markWords(drawn, hovered) : onHome ? words : recordsWords(figures.total)}
        </span>
        {!onHome && !empty && (
          <>
            <Button variant="text" onClick={() => save('svg')}>
              {say('Save as SVG')}
            </Button>
            <Button variant="text" onClick={() => save('png')}>
              {say('Save as PNG')}
            </Button>
          </>
        )}
      </div>
      <div ref={box} className={chartsCss.drawn}>
        {empty ? (
          <p className={textCss.faded}>{emptyWords(drawn)}</p>
        ) : (
          width > 0 && (
            <ChartPicture
              drawing={drawing}
              label={words}
              picture={picture}
              wordsOf={(mark) => markWords(drawn, mark)}
              addressOf={(mark) => {
                const where = behindMark(drawn, mark);
                return where && addressOf(where);
              }}
              onHover={setHovered}
            />
          )
        )}
      </div>
      <Notes {...drawn} addressOf={addressOf} />
      {!onHome && !empty && <ChartTable {...drawn} />}
    </section>
  );
}

/** Why there is nothing to draw. */
function emptyWords({ chart, figures, table, fieldAt }: DrawnChart): string {
  if (figures.total === 0)
    return say('There are no {label} to show here. Change the filter, or choose another view.', { label: table.label });
  const paths = chart.kind === 'points' ? [chart.x, chart.y] : [chart.path];
  return say('None of the {total} {label} has {list}.', {
    total: formatCount(figures.total),
    label: table.label,
    list: paths.map((path) => fieldAt(path)?.label ?? path).join(` ${say('and')} `),
  });
}

/** What the picture leaves out: records without a value, and that a longer step was taken. */
function Notes({ chart, figures, fieldAt, addressOf }: DrawnChart & Pick<ChartViewProps, 'addressOf'>) {
  const notes = [];
  const asked = chart.kind === 'time' ? chart.step : null;
  if (asked !== null && figures.kind === 'bars' && figures.step !== null && figures.step !== asked)
    notes.push(
      <span key="step">
        {say('Shown by {step}: by {asked} there would be too many bars.', { step: figures.step, asked })}
      </span>,
    );
  if (figures.blank > 0 && (chart.kind !== 'categories' || figures.kind === 'points')) {
    const paths = chart.kind === 'points' ? [chart.x, chart.y] : [chart.path];
    const blank = paths.map(
      (path) => ({ kind: 'compare', left: { kind: 'column', path }, operator: 'isBlank' }) as const,
    );
    const to = addressOf({ kind: 'group', match: 'any', of: blank });
    const words = say('{blank} without {list}', {
      blank: formatCount(figures.blank),
      list: paths.map((path) => fieldAt(path)?.label ?? path).join(` ${say('or')} `),
    });
    notes.push(
      to === undefined ? (
        <span key="blank">{words}</span>
      ) : (
        <Link key="blank" to={to}>
          {words}
        </Link>
      ),
    );
  }
  if (figures.kind === 'points' && figures.cells.some((cell) => cell.count > 1))
    notes.push(<span key="size">{say('A larger circle stands for more records.')}</span>);
  if (figures.kind === 'bars' && figures.others && chart.kind !== 'points') {
    const { values, amount } = figures.others;
    notes.push(
      <span key="others">
        {say('and {values} others, together {amount}', {
          values: formatCount(values),
          amount: amountWords(amount, chart.measure, fieldAt),
        })}
      </span>,
    );
  }
  if (notes.length === 0) return null;
  return <p className={chartsCss.notes}>{notes}</p>;
}
