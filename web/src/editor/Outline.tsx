import { closestCenter, DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import type { FindingView } from '@fiche/core/api';
import type { DefinedForm, PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import ButtonBase from '@mui/material/ButtonBase';
import { clsx } from 'clsx';
import { type KeyboardEvent, type RefObject, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { isShortcut, textCss } from '../parts/index.ts';
import { Arcs, WIRE_LETTERS } from './Arcs.tsx';
import { changeLines, itemKeys, lineKey, moveBefore, removeItem, stepItem } from './edit.ts';
import { OutlineRow } from './OutlineRow.tsx';
import outlineCss from './outline.module.css';
import { allEdges, outlineKeys, outlineLines } from './outlineLines.ts';

interface OutlineProps {
  readonly definition: DefinedForm;
  readonly prepared: PreparedForm;
  readonly findings: readonly FindingView[];
  readonly selected?: string;
  onSelect(key: string): void;
  onChange(definition: DefinedForm): void;
}

const WIRES = 96;
export const WIRING_KEY = say(
  '{narrows} narrows · {fills} fills · {shows} shows · {checks} validates · {calculates} calculates',
  {
    narrows: WIRE_LETTERS.narrows,
    fills: WIRE_LETTERS.fills,
    shows: WIRE_LETTERS.shows,
    checks: WIRE_LETTERS.checks,
    calculates: WIRE_LETTERS.calculates,
  },
);

/** Sections and what stands in them, in order, with the wiring to their left. Drag, or Alt with the arrows, to move. */
export function Outline({ definition, prepared, findings, selected, onSelect, onChange }: OutlineProps) {
  const box = useRef<HTMLDivElement>(null);
  const [hovered, setHovered] = useState<string>();
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const { heights, height } = useLineHeights(box, definition);
  useEffect(() => {
    const line = box.current?.querySelector(`[data-outline="${CSS.escape(selected ?? '')}"]`);
    line?.scrollIntoView({ block: 'nearest' });
  }, [selected]);
  const keys = outlineKeys(definition, prepared);
  /** The form with one of its items changed, or one of a subform’s fields. */
  function edited(key: string, change: (form: DefinedForm, key: string) => DefinedForm): DefinedForm {
    const at = lineKey(key);
    return at
      ? changeLines(definition, at.subform, prepared.tables, (lines) => change(lines, at.key))
      : change(definition, key);
  }
  const onKeyDown = (event: KeyboardEvent, key: string): void => {
    const focus = (target: string | undefined) =>
      requestAnimationFrame(() =>
        box.current?.querySelector<HTMLElement>(`[data-outline="${CSS.escape(target ?? '')}"]`)?.focus(),
      );
    const step = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : 0;
    const move = isShortcut(event, 'moveUp') ? -1 : isShortcut(event, 'moveDown') ? 1 : undefined;
    if (move) {
      onChange(edited(key, (form, one) => stepItem(form, one, move)));
      focus(key);
    } else if (step !== 0) focus(keys[keys.indexOf(key) + step]);
    else if (isShortcut(event, 'removeItem') && !key.startsWith('§')) {
      onChange(edited(key, removeItem));
      focus(keys[keys.indexOf(key) + 1] ?? keys[keys.indexOf(key) - 1]);
    } else return;
    event.preventDefault();
  };
  const onDragEnd = ({ active, over }: DragEndEvent): void => {
    if (over) onChange(moveBefore(definition, String(active.id), String(over.id)));
  };
  return (
    <div className={outlineCss.list} ref={box}>
      <Arcs edges={allEdges(prepared)} heights={heights} selected={hovered ?? selected} width={WIRES} height={height} />
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
        <SortableContext items={itemKeys(definition)} strategy={verticalListSortingStrategy}>
          {definition.sections.map((section, at) => (
            <div key={section.id}>
              {(section.label || definition.sections.length > 1) && (
                <ButtonBase
                  data-outline={`§${section.id}`}
                  className={clsx(outlineCss.section, selected === `§${section.id}` && outlineCss.selected)}
                  aria-pressed={selected === `§${section.id}`}
                  onClick={() => onSelect(`§${section.id}`)}
                  onKeyDown={(event) => onKeyDown(event, `§${section.id}`)}
                >
                  {section.label || say('Section {at}, no heading', { at: at + 1 })}
                  {section.shownWhen && (
                    <span className={clsx(textCss.faded, outlineCss.faded)}> {say('· shown when')}</span>
                  )}
                </ButtonBase>
              )}
              {section.items
                .flatMap((item) => outlineLines(prepared, item))
                .map((line) => (
                  <OutlineRow
                    key={line.key}
                    line={line}
                    selected={selected === line.key}
                    weight={findings.find((finding) => finding.path === line.key)?.weight}
                    onSelect={() => onSelect(line.key)}
                    onHover={(over) => setHovered(over ? line.key : undefined)}
                    onKeyDown={(event) => onKeyDown(event, line.key)}
                  />
                ))}
            </div>
          ))}
        </SortableContext>
      </DndContext>
    </div>
  );
}

/** Where each line of the outline stands, in px from its top, and how high all of it is. */
function useLineHeights(box: RefObject<HTMLDivElement | null>, definition: DefinedForm) {
  const [heights, setHeights] = useState<ReadonlyMap<string, number>>(new Map());
  const [height, setHeight] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the lines move when the definition does.
  useLayoutEffect(() => {
    const here = box.current;
    const top = (here?.getBoundingClientRect().top ?? 0) - (here?.scrollTop ?? 0);
    const found = [...(here?.querySelectorAll<HTMLElement>('[data-outline]') ?? [])].map((row) => {
      const place = row.getBoundingClientRect();
      return [row.dataset.outline ?? '', place.top - top + place.height / 2] as const;
    });
    setHeights(new Map(found));
    setHeight(here?.scrollHeight ?? 0);
  }, [definition]);
  return { heights, height };
}
