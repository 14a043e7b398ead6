import { closestCenter, DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { isNumbered } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { FieldDefinition, TableDefinition } from '@fiche/core/tables';
import DragIcon from '@mui/icons-material/DragIndicator';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { clsx } from 'clsx';
import type { KeyboardEvent } from 'react';
import { useSearchParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { pageCss, sayWith, textCss } from '../parts/index.ts';
import { narrowedByWords } from '../sentences/index.ts';
import { ArchiveTable } from './ArchiveTable.tsx';
import { CopyFields } from './CopyFields.tsx';
import { defaultWords } from './DefaultControl.tsx';
import { FieldSheet } from './FieldSheet.tsx';
import { kindWords } from './fieldKind.ts';
import fieldsCss from './fields.module.css';
import { LevelsProposal } from './LevelsProposal.tsx';
import { NewFieldSheet } from './NewFieldSheet.tsx';
import { setWords } from './settings.ts';
import { TitleSentence } from './TitleSentence.tsx';
import tablePageCss from './tablePage.module.css';
import { type ChangeTable, useTableWork } from './useTableWork.tsx';

const NEW = ` ${say('new')}`;

/** A table’s fields in aligned columns, each with what is set; one opens into its settings beside the list. */
export function FieldsTab({ table }: { table: TableDefinition }) {
  const { change, progress } = useTableWork();
  const [search, setSearch] = useSearchParams();
  const base = `/api/tables/${table.id}`;
  const opened = search.get('field') ?? undefined;
  const open = (id: string | undefined): void =>
    setSearch(id === undefined ? { fields: '' } : { fields: '', field: id }, { replace: true });
  const field = table.fields.find((one) => one.id === opened);
  return (
    <>
      <div className={tablePageCss.body}>
        {table.fields.length > 0 && <TitleSentence table={table} onChange={(body) => change('PATCH', base, body)} />}
        <LevelsProposal table={table} change={change} />
        {progress}
        {table.fields.length === 0 ? (
          <p className={clsx(pageCss.empty, pageCss.listCard)}>
            {sayWith('{name} A field is a column of the table, such as a name, a date or a link to another table.', {
              name: <strong>{say('{label} has no fields yet.', { label: table.label })}</strong>,
            })}{' '}
            <Button onClick={() => open(NEW)}>{say('Add field')}</Button>
          </p>
        ) : (
          <FieldList table={table} change={change} opened={opened} onOpen={open} />
        )}
        {table.fields.length > 0 && (
          <div className={fieldsCss.acts}>
            <Button variant="contained" onClick={() => open(NEW)}>
              {say('Add field')}
            </Button>
            <CopyFields table={table} change={change} />
            {!table.archived && <ArchiveTable table={table} />}
          </div>
        )}
        {table.retired.length > 0 && (
          <p className={clsx(textCss.faded, fieldsCss.retired)}>
            {say('Archived fields, with their values and history:')}{' '}
            {table.retired.map((one) => (
              <span key={one.id}>
                {one.label}{' '}
                <Button
                  variant="text"
                  aria-label={say('Restore {label}', { label: one.label })}
                  onClick={() => void change('POST', `${base}/fields/${one.id}/return`, {})}
                >
                  {say('Restore')}
                </Button>{' '}
              </span>
            ))}
          </p>
        )}
      </div>
      {opened === NEW && <NewFieldSheet table={table} change={change} onClose={() => open(undefined)} />}
      {field && (
        <FieldSheet key={field.id} table={table} field={field} change={change} onClose={() => open(undefined)} />
      )}
    </>
  );
}

interface FieldListProps {
  readonly table: TableDefinition;
  readonly change: ChangeTable;
  /** The field whose settings are open. */
  readonly opened: string | undefined;
  onOpen(id: string): void;
}

/** The fields below each other; each is dragged, or moved by Alt and an arrow. */
function FieldList({ table, change, opened, onOpen }: FieldListProps) {
  const move = (id: string, position: number): Promise<boolean> =>
    change('PATCH', `/api/tables/${table.id}/fields/${id}`, { position, revision: table.revision });
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const onDragEnd = ({ active, over }: DragEndEvent): void => {
    const to = table.fields.findIndex((one) => one.id === over?.id);
    if (to >= 0 && active.id !== over?.id) void move(String(active.id), to);
  };
  return (
    <div className={pageCss.listCard}>
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
        <SortableContext items={table.fields.map((one) => one.id)} strategy={verticalListSortingStrategy}>
          <Table
            className={clsx(pageCss.list, fieldsCss.list)}
            aria-label={say('Fields of {label}', { label: table.label })}
          >
            <TableHead>
              <TableRow>
                <TableCell scope="col">{say('Field')}</TableCell>
                <TableCell scope="col">{say('Type')}</TableCell>
                <TableCell scope="col">{say('Set to')}</TableCell>
                <TableCell scope="col">{say('Column')}</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {table.fields.map((one, at) => (
                <FieldLine
                  key={one.id}
                  table={table}
                  field={one}
                  selected={one.id === opened}
                  onOpen={() => onOpen(one.id)}
                  onStep={(step) => {
                    const to = at + step;
                    if (to >= 0 && to < table.fields.length) void move(one.id, to);
                  }}
                />
              ))}
            </TableBody>
          </Table>
        </SortableContext>
      </DndContext>
    </div>
  );
}

interface FieldLineProps {
  readonly table: TableDefinition;
  readonly field: FieldDefinition;
  readonly selected: boolean;
  onOpen(): void;
  /** Moves the field by so many places. */
  onStep(step: 1 | -1): void;
}

/** One field in the list: dragged by its handle, moved by Alt and an arrow, opened by its name. */
function FieldLine({ table, field, selected, onOpen, onStep }: FieldLineProps) {
  const { tables } = useOffice();
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: field.id });
  const onKeyDown = (event: KeyboardEvent): void => {
    if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
    event.preventDefault();
    onStep(event.key === 'ArrowUp' ? -1 : 1);
  };
  const standard = defaultWords(field);
  const set = [
    ...setWords(field.type, field.settings),
    field.calculation === null ? '' : `= ${field.calculation}`,
    standard === '' ? '' : say('default {standard}', { standard }),
    field.narrowing ? narrowedByWords(tables, table, field) : '',
    field.unique ? 'unique' : '',
    isNumbered(field) ? sequenceExample(field) : '',
  ].filter((words) => words !== '');
  return (
    <TableRow
      ref={setNodeRef}
      selected={selected}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      onClick={onOpen}
    >
      <TableCell className={fieldsCss.fieldName}>
        <span className={fieldsCss.handle} {...attributes} {...listeners} tabIndex={-1} role="presentation">
          <DragIcon />
        </span>
        {field.required && (
          <span className={clsx(textCss.tick, fieldsCss.tick)} role="img" aria-label={say('required')} />
        )}
        <Button variant="text" color="inherit" aria-expanded={selected} onKeyDown={onKeyDown} onClick={onOpen}>
          {field.label}
        </Button>
      </TableCell>
      <TableCell>{kindWords(field, tables)}</TableCell>
      <TableCell className={textCss.faded}>{set.join(' · ')}</TableCell>
      <TableCell className={clsx(textCss.mono, textCss.faded)}>{field.id}</TableCell>
    </TableRow>
  );
}

/** What the first number of a sequence looks like, in this year. */
function sequenceExample({ settings }: FieldDefinition): string {
  const { prefix, withYear, width, first } = settings as Record<string, unknown>;
  const number = String(first ?? 1).padStart(Number(width ?? 5), '0');
  return `${prefix ?? ''}${withYear ? `${new Date().getFullYear()}-` : ''}${number}`;
}
