import { closestCenter, DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import type { Problem } from '@fiche/core/fields';
import type { FormDefinition, PreparedForm } from '@fiche/core/forms';
import { typeOf } from '@fiche/core/tables';
import { type KeyboardEvent, useLayoutEffect, useRef, useState } from 'react';
import { Arcs } from './Arcs.tsx';
import { moveBefore, removeField, stepField } from './edit.ts';

export interface OutlineProps {
  readonly definition: FormDefinition;
  readonly prepared: PreparedForm;
  readonly problems: readonly Problem[];
  readonly selected?: string;
  onSelect(field: string): void;
  onChange(definition: FormDefinition): void;
}

const WIRES = 96;

/** Sections and fields in order, with the wiring to their left. Drag, or Alt with the arrows, to move. */
export function Outline({ definition, prepared, problems, selected, onSelect, onChange }: OutlineProps) {
  const box = useRef<HTMLDivElement>(null);
  const [heights, setHeights] = useState<ReadonlyMap<string, number>>(new Map());
  const [height, setHeight] = useState(0);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  // biome-ignore lint/correctness/useExhaustiveDependencies: the lines move when the definition does.
  useLayoutEffect(() => {
    const top = box.current?.getBoundingClientRect().top ?? 0;
    const found = [...(box.current?.querySelectorAll<HTMLElement>('[data-outline]') ?? [])].map((row) => {
      const here = row.getBoundingClientRect();
      return [row.dataset.outline ?? '', here.top - top + here.height / 2] as const;
    });
    setHeights(new Map(found));
    setHeight(box.current?.scrollHeight ?? 0);
  }, [definition]);
  const ids = [...prepared.fields.keys()];
  const onKeyDown = (event: KeyboardEvent, id: string): void => {
    const focus = (target: string | undefined) =>
      requestAnimationFrame(() => box.current?.querySelector<HTMLElement>(`[data-outline="${target}"]`)?.focus());
    const step = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : 0;
    if (step !== 0 && event.altKey) {
      onChange(stepField(definition, id, step));
      focus(id);
    } else if (step !== 0) focus(ids[ids.indexOf(id) + step]);
    else if (event.key === 'Delete') {
      onChange(removeField(definition, id));
      focus(ids[ids.indexOf(id) + 1] ?? ids[ids.indexOf(id) - 1]);
    } else return;
    event.preventDefault();
  };
  const onDragEnd = ({ active, over }: DragEndEvent): void => {
    if (over) onChange(moveBefore(definition, String(active.id), String(over.id)));
  };
  return (
    <div className="outline-list" ref={box}>
      <Arcs edges={prepared.wiring.edges} heights={heights} selected={selected} width={WIRES} height={height} />
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          {definition.sections.map((section) => (
            <div key={section.id}>
              {(section.label || definition.sections.length > 1) && (
                <div className="outline-section">{section.label || 'No heading'}</div>
              )}
              {section.fields.map((one) => {
                const field = prepared.fields.get(one.field);
                return (
                  <OutlineField
                    key={one.field}
                    id={one.field}
                    label={field?.label ?? one.field}
                    type={field ? typeOf(field.field).word : 'gone'}
                    required={field?.required === true && !field.readOnly}
                    selected={selected === one.field}
                    wrong={problems.some((problem) => problem.path === one.field)}
                    onSelect={() => onSelect(one.field)}
                    onKeyDown={(event) => onKeyDown(event, one.field)}
                  />
                );
              })}
            </div>
          ))}
        </SortableContext>
      </DndContext>
    </div>
  );
}

interface OutlineFieldProps {
  readonly id: string;
  readonly label: string;
  readonly type: string;
  readonly required: boolean;
  readonly selected: boolean;
  readonly wrong: boolean;
  onSelect(): void;
  onKeyDown(event: KeyboardEvent): void;
}

function OutlineField({ id, label, type, required, selected, wrong, onSelect, onKeyDown }: OutlineFieldProps) {
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id });
  return (
    <button
      type="button"
      ref={setNodeRef}
      data-outline={id}
      className={`outline-field${selected ? ' selected' : ''}`}
      aria-pressed={selected}
      {...listeners}
      onKeyDown={onKeyDown}
      onClick={onSelect}
      onFocus={onSelect}
      style={{
        transform: transform ? `translateY(${transform.y}px)` : undefined,
        transition,
        zIndex: isDragging ? 5 : undefined,
      }}
    >
      {required && <span className="tick" aria-hidden="true" />}
      <span className="outline-label">
        {label}
        {required && <span className="visually-hidden"> (required)</span>}
      </span>
      {wrong && (
        <span className="finding-mark" role="img" aria-label="has a finding">
          ▲
        </span>
      )}
      <span className="faded">{type}</span>
    </button>
  );
}
