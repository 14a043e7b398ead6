import { closestCenter, DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import type { FindingView } from '@fiche/core/api';
import {
  type DefinedForm,
  ENCLOSING,
  type Item,
  isField,
  isSubform,
  itemKey,
  type PreparedForm,
} from '@fiche/core/forms';
import { typeOf } from '@fiche/core/tables';
import type { Edge, EdgeKind } from '@fiche/core/wiring';
import ButtonBase from '@mui/material/ButtonBase';
import { clsx } from 'clsx';
import { type KeyboardEvent, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { isShortcut, textCss } from '../parts/index.ts';
import { Arcs, WIRE_LETTERS } from './Arcs.tsx';
import { changeLines, itemKeys, lineKey, moveBefore, removeItem, stepItem } from './edit.ts';
import outlineCss from './outline.module.css';

export interface OutlineProps {
  readonly definition: DefinedForm;
  readonly prepared: PreparedForm;
  readonly findings: readonly FindingView[];
  readonly selected?: string;
  onSelect(key: string): void;
  onChange(definition: DefinedForm): void;
}

const WIRES = 96;
const VERBS: Record<EdgeKind, string> = {
  narrows: 'narrows',
  fills: 'fills',
  shows: 'decides whether to show',
  checks: 'is checked with',
  calculates: 'counts in',
};

/** Sections and what stands in them, in order, with the wiring to their left. Drag, or Alt with the arrows, to move. */
export function Outline({ definition, prepared, findings, selected, onSelect, onChange }: OutlineProps) {
  const box = useRef<HTMLDivElement>(null);
  const [heights, setHeights] = useState<ReadonlyMap<string, number>>(new Map());
  const [height, setHeight] = useState(0);
  const [hovered, setHovered] = useState<string>();
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
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
  useEffect(() => {
    const line = box.current?.querySelector(`[data-outline="${CSS.escape(selected ?? '')}"]`);
    line?.scrollIntoView({ block: 'nearest' });
  }, [selected]);
  const keys = definition.sections.flatMap((section) => [
    `§${section.id}`,
    ...section.items.flatMap((item) => [itemKey(item), ...inLines(item).map((one) => one.key)]),
  ]);
  /** The form with one of its items changed, or one of a subform’s fields. */
  function edited(key: string, change: (form: DefinedForm, key: string) => DefinedForm): DefinedForm {
    const at = lineKey(key);
    return at
      ? changeLines(definition, at.subform, prepared.tables, (lines) => change(lines, at.key))
      : change(definition, key);
  }
  /** The fields of a subform’s lines, as lines of the outline below it. */
  function inLines(item: Item) {
    const subform = isSubform(item) ? prepared.subforms.get(item.id) : undefined;
    return [...(subform?.form.fields.values() ?? [])]
      .filter((field) => field.placed)
      .map((field) => ({
        key: `${subform?.id}/${field.id}`,
        field,
        wires: wiresOf(subform?.form ?? prepared, field.id),
      }));
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
  const view = (item: Item) => {
    if (isSubform(item))
      return { label: prepared.subforms.get(item.id)?.label ?? item.id, kind: `lines, as ${item.as}` };
    if (!isField(item))
      return item.kind === 'card'
        ? { label: prepared.fields.get(item.of)?.label ?? item.of, kind: 'reference card' }
        : { label: item.text, kind: item.kind };
    const field = prepared.fields.get(item.field);
    return { label: field?.label ?? item.field, kind: field ? typeOf(field.field).word : 'gone' };
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
                  {section.label || `Section ${at + 1}, no heading`}
                  {section.shownWhen && <span className={clsx(textCss.faded, outlineCss.faded)}> · shown when</span>}
                </ButtonBase>
              )}
              {section.items.map((item) => {
                const key = itemKey(item);
                const field = isField(item) ? prepared.fields.get(item.field) : undefined;
                const found = findings.filter((finding) => finding.path === key);
                return [
                  <OutlineItem
                    key={key}
                    id={key}
                    {...view(item)}
                    required={field?.required === true && !field.readOnly}
                    selected={selected === key}
                    weight={found[0]?.weight}
                    wires={wiresOf(prepared, key)}
                    onSelect={() => onSelect(key)}
                    onHover={(over) => setHovered(over ? key : undefined)}
                    onKeyDown={(event) => onKeyDown(event, key)}
                  />,
                  ...inLines(item).map((one) => (
                    <ButtonBase
                      key={one.key}
                      data-outline={one.key}
                      className={clsx(
                        outlineCss.field,
                        outlineCss.inLines,
                        selected === one.key && outlineCss.selected,
                      )}
                      aria-pressed={selected === one.key}
                      onClick={() => onSelect(one.key)}
                      onFocus={() => onSelect(one.key)}
                      onMouseEnter={() => setHovered(one.key)}
                      onMouseLeave={() => setHovered(undefined)}
                      onKeyDown={(event) => onKeyDown(event, one.key)}
                    >
                      {one.field.required && !one.field.readOnly && (
                        <span className={clsx(textCss.tick, outlineCss.tick)} aria-hidden="true" />
                      )}
                      <span className={outlineCss.label}>
                        {one.field.label}
                        {one.wires && <span className={textCss.visuallyHidden}> ({one.wires})</span>}
                      </span>
                      <FindingMark weight={findings.find((finding) => finding.path === one.key)?.weight} />
                      <span className={clsx(textCss.faded, outlineCss.faded)}>{typeOf(one.field.field).word}</span>
                    </ButtonBase>
                  )),
                ];
              })}
            </div>
          ))}
        </SortableContext>
      </DndContext>
    </div>
  );
}

/** What a field does to others, for those who do not see the arcs. */
const wiresOf = ({ wiring, fields, subforms }: PreparedForm, key: string): string =>
  (wiring.from.get(key) ?? [])
    .map((edge) => `${VERBS[edge.kind]} ${fields.get(edge.to)?.label ?? subforms.get(edge.to)?.label ?? edge.to}`)
    .join(', ');

export const WIRING_KEY = `${WIRE_LETTERS.narrows} narrows · ${WIRE_LETTERS.fills} fills · ${WIRE_LETTERS.shows} shows · ${WIRE_LETTERS.checks} validates · ${WIRE_LETTERS.calculates} calculates`;

/** The wires of a form and, into and within its lines, those of their forms. */
const allEdges = (form: PreparedForm): Edge[] => [
  ...form.wiring.edges,
  ...[...form.subforms.values()].flatMap(({ id, form: lines }) =>
    lines.wiring.edges.map((edge) => ({
      ...edge,
      from: edge.from.startsWith(ENCLOSING) ? edge.from.slice(ENCLOSING.length) : `${id}/${edge.from}`,
      to: `${id}/${edge.to}`,
    })),
  ),
];

function FindingMark({ weight }: { weight?: FindingView['weight'] }) {
  if (!weight) return null;
  return (
    <span
      className={clsx(outlineCss.mark, weight === 'look' && outlineCss.look)}
      role="img"
      aria-label={weight === 'must' ? 'has a problem' : 'has a finding worth a look'}
    >
      {weight === 'must' ? '▲' : '●'}
    </span>
  );
}

interface OutlineItemProps {
  readonly id: string;
  readonly label: string;
  readonly kind: string;
  readonly required: boolean;
  readonly selected: boolean;
  readonly weight?: FindingView['weight'];
  readonly wires: string;
  onSelect(): void;
  onHover(over: boolean): void;
  onKeyDown(event: KeyboardEvent): void;
}

function OutlineItem({ id, label, kind, required, selected, weight, wires, ...on }: OutlineItemProps) {
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id });
  return (
    <ButtonBase
      ref={setNodeRef}
      data-outline={id}
      className={clsx(outlineCss.field, selected && outlineCss.selected, id.startsWith('#') && outlineCss.words)}
      aria-pressed={selected}
      {...listeners}
      onKeyDown={on.onKeyDown}
      onClick={on.onSelect}
      onFocus={on.onSelect}
      onMouseEnter={() => on.onHover(true)}
      onMouseLeave={() => on.onHover(false)}
      style={{
        transform: transform ? `translateY(${transform.y}px)` : undefined,
        transition,
        zIndex: isDragging ? 5 : undefined,
      }}
    >
      {required && <span className={clsx(textCss.tick, outlineCss.tick)} aria-hidden="true" />}
      <span className={outlineCss.label}>
        {label}
        {required && <span className={textCss.visuallyHidden}> (required)</span>}
        {wires && <span className={textCss.visuallyHidden}> ({wires})</span>}
      </span>
      <FindingMark weight={weight} />
      <span className={clsx(textCss.faded, outlineCss.faded)}>{kind}</span>
    </ButtonBase>
  );
}
