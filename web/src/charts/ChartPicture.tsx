import type { Drawing, Mark } from '@fiche/core/charts';
import { say } from '@fiche/core/languages';
import { clsx } from 'clsx';
import { type KeyboardEvent, type Ref, useState } from 'react';
import { Link } from 'react-router-dom';
import chartsCss from './charts.module.css';

interface ChartPictureProps {
  readonly drawing: Drawing;
  /** What the chart shows, for screen readers. */
  readonly label: string;
  readonly picture?: Ref<SVGSVGElement>;
  /** What a mark says in words. */
  wordsOf(mark: Mark): string;
  /** Where a mark leads; undefined where it leads nowhere. */
  addressOf(mark: Mark): string | undefined;
  /** A mark is hovered over, or has the focus; undefined when none is any more. */
  onHover(mark: Mark | undefined): void;
}

const LINES = { base: chartsCss.base, grid: chartsCss.grid };
const TEXTS = { axis: chartsCss.axis, label: chartsCss.label };
/** Parts have shades of one hue, from the darkest; what is summed up of the others comes last. */
const SHADES = [
  chartsCss.shade0,
  chartsCss.shade1,
  chartsCss.shade2,
  chartsCss.shade3,
  chartsCss.shade4,
  chartsCss.shade5,
];
const shadeOf = (part: number | null): string | undefined => SHADES[part ?? 0] ?? chartsCss.others;

const STEPS: Readonly<Record<string, number>> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };

/**
 * A chart as SVG. Its marks are links to the records behind them: one of them takes the focus with Tab, arrow keys go on to the
 * others, Home and End to the first and the last.
 */
export function ChartPicture({ drawing, label, picture, wordsOf, addressOf, onHover }: ChartPictureProps) {
  const { width, height, marks, lines, texts, legend } = drawing;
  const [stop, setStop] = useState(0);
  const tabStop = Math.min(stop, marks.length - 1);
  const onKeyDown = (event: KeyboardEvent<SVGGElement>): void => {
    const step = STEPS[event.key];
    const ends = { Home: 0, End: marks.length - 1 }[event.key];
    const next = step === undefined ? ends : tabStop + step;
    if (next === undefined || next < 0 || next >= marks.length) return;
    event.preventDefault();
    setStop(next);
    event.currentTarget.querySelectorAll<SVGAElement>('a')[next]?.focus();
  };
  return (
    <svg
      ref={picture}
      className={chartsCss.picture}
      viewBox={`0 0 ${width} ${height}`}
      width={width}
      height={height}
      role="group"
      aria-label={say('{label}. Arrow keys go from one to the next, Enter shows the records.', { label })}
    >
      {lines.map(({ kind, from: [x1, y1], to: [x2, y2] }) => (
        <line key={`${x1} ${y1} ${x2} ${y2}`} className={LINES[kind]} x1={x1} y1={y1} x2={x2} y2={y2} />
      ))}
      {texts.map(({ x, y, text, anchor, kind }) => (
        <text key={`${x} ${y}`} className={TEXTS[kind]} x={x} y={y} textAnchor={anchor} aria-hidden>
          {text}
        </text>
      ))}
      {legend.map(({ part, x, y, text }) => (
        <g key={part} aria-hidden>
          <rect className={clsx(chartsCss.bar, shadeOf(part))} x={x} y={y + 1} width={10} height={10} />
          <text className={chartsCss.label} x={x + 15} y={y + 10}>
            {text}
          </text>
        </g>
      ))}
      <g onKeyDown={onKeyDown} onMouseLeave={() => onHover(undefined)}>
        {marks.map((mark, at) => {
          const key = mark.shape === 'bar' ? `${mark.bar} ${mark.part}` : `${mark.cell}`;
          const words = wordsOf(mark);
          const to = addressOf(mark);
          const common = {
            className: chartsCss.mark,
            'aria-label': words,
            tabIndex: at === tabStop ? 0 : -1,
            onMouseEnter: () => onHover(mark),
            onFocus: () => {
              setStop(at);
              onHover(mark);
            },
            onBlur: () => onHover(undefined),
          };
          return to === undefined ? (
            <a key={key} role="img" {...common}>
              <Shape mark={mark} />
            </a>
          ) : (
            <Link key={key} to={to} {...common}>
              <Shape mark={mark} />
            </Link>
          );
        })}
      </g>
    </svg>
  );
}

function Shape({ mark }: { mark: Mark }) {
  if (mark.shape === 'point') return <circle className={chartsCss.point} cx={mark.x} cy={mark.y} r={mark.radius} />;
  const { x, y, width, height, part } = mark;
  return <rect className={clsx(chartsCss.bar, shadeOf(part))} {...{ x, y, width, height }} />;
}
