import { isPresent, presentLines } from '@fiche/core/entry';
import { aggregateOf, type PreparedField } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { typeOf } from '@fiche/core/tables';
import DownIcon from '@mui/icons-material/ArrowDownward';
import UpIcon from '@mui/icons-material/ArrowUpward';
import RemoveIcon from '@mui/icons-material/Close';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useVirtualizer } from '@tanstack/react-virtual';
import { clsx } from 'clsx';
import { type CSSProperties, memo, type ReactNode, useEffect, useRef, useState } from 'react';
import { textCss } from '../../parts/index.ts';
import { onWanted } from '../focus.ts';
import { LineCell } from './LineCell.tsx';
import type { LineProps, ShapeProps } from './lineProps.ts';
import linesCss from './lines.module.css';
import { columnsOf, isFixed, mayGo, useLine } from './useLine.ts';

const ROW = 31;
/** From so many lines on, only those in sight are on the page. */
const VIRTUAL = 60;

/** How wide a column of rows wants to be. */
const WIDTHS: Readonly<Record<string, string>> = {
  number: 'minmax(70px, 1fr)',
  yesNo: '104px',
  date: '118px',
  time: '80px',
  dateTime: '150px',
  link: 'minmax(130px, 2.6fr)',
  text: 'minmax(80px, 1.2fr)',
};
const widthOf = (field: PreparedField): string => WIDTHS[typeOf(field.field).family] ?? 'minmax(90px, 1.6fr)';

/** Lines as dense rows: a cell each, the blank one last, sums of what the form adds up below. */
export function LineRows({ entry, subform, lines, onWhy, onAdd }: ShapeProps) {
  const columns = columnsOf(subform);
  const template = { '--line-columns': `28px ${columns.map(widthOf).join(' ')} 74px` } as CSSProperties;
  return (
    <div role="table" aria-label={subform.label} style={template}>
      <div className={clsx(linesCss.row, linesCss.titles)} role="row">
        <span role="columnheader" className={textCss.visuallyHidden}>
          {say('Line')}
        </span>
        <span aria-hidden="true" />
        {columns.map((field) => (
          <span
            key={field.id}
            role="columnheader"
            className={isNumber(field) ? linesCss.number : undefined}
            title={field.help || undefined}
          >
            {field.required && !field.readOnly && (
              <span className={clsx(textCss.tick, linesCss.tick)} aria-hidden="true" />
            )}
            {field.label}
          </span>
        ))}
        <span role="columnheader">
          <span className={textCss.visuallyHidden}>{say('What can be done with the line')}</span>
        </span>
      </div>
      {lines.length > VIRTUAL ? (
        <InSight entry={entry} subform={subform} lines={lines} onWhy={onWhy} onAdd={onAdd} />
      ) : (
        lines.map((line, at) => (
          <LineRow
            key={line.key}
            dispatch={entry.dispatch}
            subform={subform}
            line={line}
            at={at}
            onWhy={onWhy}
            onAdd={onAdd}
          />
        ))
      )}
      <Sums entry={entry} subform={subform} columns={columns} />
    </div>
  );
}

const isNumber = (field: PreparedField): boolean => typeOf(field.field).family === 'number';

/** What scrolls around an element. */
function scrollerOf(from: HTMLElement | null): HTMLElement | null {
  for (let one = from?.parentElement ?? null; one; one = one.parentElement)
    if (/auto|scroll/.test(getComputedStyle(one).overflowY)) return one;
  return document.documentElement;
}

/** Of many lines, those that are in sight, the one that holds the cursor, and the one that is asked for. */
function InSight({ entry, subform, lines, onWhy, onAdd }: ShapeProps) {
  const box = useRef<HTMLDivElement>(null);
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  const [held, setHeld] = useState<string>();
  useEffect(() => setScroller(scrollerOf(box.current)), []);
  useEffect(() => onWanted(subform.id, setHeld), [subform.id]);
  const margin =
    box.current && scroller
      ? box.current.getBoundingClientRect().top - scroller.getBoundingClientRect().top + scroller.scrollTop
      : 0;
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller,
    estimateSize: () => ROW,
    overscan: 12,
    scrollMargin: margin,
    getItemKey: (at) => lines[at]?.key ?? at,
  });
  const items = virtual.getVirtualItems();
  const shown = new Set(items.map((one) => one.index));
  const holding = lines.findIndex((line) => line.key === held);
  const last = lines.length - 1;
  for (const at of [holding, last]) if (at >= 0) shown.add(at);
  const tops = new Map(items.map((one) => [one.index, one.start - margin]));
  return (
    <div
      ref={box}
      className={linesCss.inSight}
      style={{ height: virtual.getTotalSize() }}
      onFocus={(event) => setHeld((event.target as Element).closest<HTMLElement>('[data-line]')?.dataset.line)}
    >
      {[...shown]
        .sort((a, b) => a - b)
        .map((at) => {
          const line = lines[at];
          return (
            line && (
              <div
                key={line.key}
                ref={virtual.measureElement}
                data-index={at}
                style={{
                  position: 'absolute',
                  width: '100%',
                  top: tops.get(at) ?? (at === last ? virtual.getTotalSize() - ROW : at * ROW),
                }}
              >
                <LineRow dispatch={entry.dispatch} subform={subform} line={line} at={at} onWhy={onWhy} onAdd={onAdd} />
              </div>
            )
          );
        })}
    </div>
  );
}

const LineRow = memo(function LineRow(props: LineProps) {
  const { subform, line, at } = props;
  const { cell, elsewhere } = useLine(props);
  const there = isPresent(line);
  return (
    <div className={clsx(linesCss.row, !there && linesCss.blank)} role="row" inert={isFixed(subform, line)}>
      <span className={linesCss.ordinal} role="cell">
        {there ? at + 1 : <span aria-hidden="true">+</span>}
        {!there && <span className={textCss.visuallyHidden}>{say('a blank line, ready to be typed in')}</span>}
      </span>
      {columnsOf(subform).map((field) =>
        line.state.hidden[field.id] ? (
          <div key={field.id} role="cell" className={linesCss.cell} />
        ) : (
          <LineCell key={field.id} {...cell(field)} />
        ),
      )}
      <span className={linesCss.acts} role="cell">
        {there && <LineActs {...props} />}
      </span>
      {elsewhere.length > 0 && (
        <span className={clsx(linesCss.elsewhere, textCss.problem)} role="cell">
          {elsewhere.map((one) => one.message).join(' ')}
        </span>
      )}
    </div>
  );
}, sameRow);

/** Whoever is told of a press on *why* is told the same, whichever function it is. */
function sameRow(a: LineProps, b: LineProps): boolean {
  return a.dispatch === b.dispatch && a.subform === b.subform && a.line === b.line && a.at === b.at;
}

/** Moves and archives a line by the mouse; by the keyboard, Alt with an arrow and Ctrl with Delete. */
export function LineActs({ dispatch, subform, line, at }: LineProps) {
  const place = { subform: subform.id, key: line.key };
  const of = { line: at + 1 };
  const act = (words: string, label: string, icon: ReactNode, event: Parameters<typeof dispatch>[0]) => (
    <Tooltip title={words}>
      <IconButton tabIndex={-1} aria-label={label} onClick={() => dispatch(event)}>
        {icon}
      </IconButton>
    </Tooltip>
  );
  return (
    <>
      {subform.ordered &&
        act(say('Move up'), say('Move up line {line}', of), <UpIcon />, { type: 'lineMoved', line: place, to: at - 1 })}
      {subform.ordered &&
        act(say('Move down'), say('Move down line {line}', of), <DownIcon />, {
          type: 'lineMoved',
          line: place,
          to: at + 1,
        })}
      {mayGo(subform, line) &&
        act(
          line.state.opening.record ? say('Archive') : say('Remove'),
          line.state.opening.record ? say('Archive line {line}', of) : say('Remove line {line}', of),
          <RemoveIcon />,
          { type: 'lineArchived', line: place },
        )}
    </>
  );
}

/** The sums of the columns of numbers that the form takes something of. */
function Sums({ entry, subform, columns }: Pick<ShapeProps, 'entry' | 'subform'> & { columns: PreparedField[] }) {
  const lines = presentLines(entry.state, subform.id);
  const summed = columns.filter((field) => isNumber(field) && subform.columns.includes(field.id));
  if (lines.length < 2 || summed.length === 0) return null;
  return (
    <div className={clsx(linesCss.row, linesCss.sums)} role="row">
      <span role="cell" />
      {columns.map((field) => {
        const numbers = lines.flatMap((line) => {
          const value = line.state.values[field.id];
          return typeof value === 'number' ? [value] : [];
        });
        const total = aggregateOf(numbers, 'sum');
        return (
          <span key={field.id} role="cell" className={linesCss.number}>
            {summed.includes(field) && total !== null
              ? typeOf(field.field).format(Number(total.toPrecision(15)), field.field.settings)
              : ''}
          </span>
        );
      })}
      <span role="cell" />
    </div>
  );
}
