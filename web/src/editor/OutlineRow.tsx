import { useSortable } from '@dnd-kit/sortable';
import type { FindingView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import ButtonBase from '@mui/material/ButtonBase';
import { clsx } from 'clsx';
import type { KeyboardEvent } from 'react';
import { textCss } from '../parts/index.ts';
import outlineCss from './outline.module.css';
import type { OutlineLine } from './outlineLines.ts';

interface OutlineRowProps {
  readonly line: OutlineLine;
  readonly selected: boolean;
  readonly weight: FindingView['weight'] | undefined;
  onSelect(): void;
  onHover(over: boolean): void;
  onKeyDown(event: KeyboardEvent): void;
}

/** One line of the outline: the label of a field, what it does to others, its type. */
export function OutlineRow({ line, selected, weight, onSelect, onHover, onKeyDown }: OutlineRowProps) {
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({
    id: line.key,
    disabled: line.ofLines,
  });
  return (
    <ButtonBase
      ref={setNodeRef}
      data-outline={line.key}
      className={clsx(
        outlineCss.field,
        line.ofLines && outlineCss.inLines,
        selected && outlineCss.selected,
        line.key.startsWith('#') && outlineCss.words,
      )}
      aria-pressed={selected}
      {...listeners}
      onKeyDown={onKeyDown}
      onClick={onSelect}
      onFocus={onSelect}
      onMouseEnter={() => onHover(true)}
      onMouseLeave={() => onHover(false)}
      style={{
        transform: transform ? `translateY(${transform.y}px)` : undefined,
        transition,
        zIndex: isDragging ? 5 : undefined,
      }}
    >
      {line.required && <span className={clsx(textCss.tick, outlineCss.tick)} aria-hidden="true" />}
      <span className={outlineCss.label}>
        {line.label}
        {line.required && <span className={textCss.visuallyHidden}> {say('(required)')}</span>}
        {line.wires && <span className={textCss.visuallyHidden}> ({line.wires})</span>}
      </span>
      <FindingMark weight={weight} />
      <span className={clsx(textCss.faded, outlineCss.faded)}>{line.kind}</span>
    </ButtonBase>
  );
}

function FindingMark({ weight }: { weight: FindingView['weight'] | undefined }) {
  if (!weight) return null;
  return (
    <span
      className={clsx(outlineCss.mark, weight === 'look' && outlineCss.look)}
      role="img"
      aria-label={weight === 'must' ? say('has a problem') : say('has a finding worth a look')}
    >
      {weight === 'must' ? '▲' : '●'}
    </span>
  );
}
