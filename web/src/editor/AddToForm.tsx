import type { MadeLines } from '@fiche/core/api';
import { type DefinedForm, type PreparedForm, placeField, placeLines } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { FieldDefinition, TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import Popover, { type PopoverActions } from '@mui/material/Popover';
import { clsx } from 'clsx';
import { useEffect, useRef, useState } from 'react';
import { send, useRefreshCabinet } from '../client/index.ts';
import { pickerCss, SearchList, sayWith, textCss, useNotify, useShortcut } from '../parts/index.ts';
import type { FieldKind } from '../tables/index.ts';
import { type Addition, additionsTo, takenIds } from './additions.ts';
import addToFormCss from './addToForm.module.css';
import { addField, addItem, addSection, changeLines, freshItemId, lineKey } from './edit.ts';
import { NewFieldOfType } from './NewFieldOfType.tsx';
import { WIRING_KEY } from './Outline.tsx';

interface AddToFormProps {
  readonly definition: DefinedForm;
  readonly prepared: PreparedForm;
  readonly selected?: string;
  onChange(definition: DefinedForm, select?: string): void;
}

/** Adds to the form: columns of the table first, then a new one, lines, words, a section. Opens with `/`. */
export function AddToForm({ definition, prepared, selected, onChange }: AddToFormProps) {
  const button = useRef<HTMLButtonElement>(null);
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  /** The new field whose type is being chosen. */
  const [typing, setTyping] = useState<{ readonly label: string; readonly lines?: string }>();
  const add = useAdditions({ definition, prepared, selected, onChange });
  useShortcut('addToForm', open ? undefined : () => setOpen(true), { whileTyping: false });
  const close = (): void => {
    setOpen(false);
    setTyping(undefined);
    setText('');
  };
  const popover = useRef<PopoverActions>(null);
  // The list grows and shrinks with what is typed, and stays within the window.
  // biome-ignore lint/correctness/useExhaustiveDependencies: see above.
  useEffect(() => popover.current?.updatePosition(), [text, typing]);
  const additions = (typed: string): readonly Addition[] => additionsTo(prepared, selected, typed);
  const pick = (value: string, typed: string): void => {
    const addition = additions(typed).find((one) => one.value === value);
    if (addition?.kind === 'newFieldOfType') setTyping({ label: typed, lines: addition.lines });
    else {
      close();
      if (addition) void add(addition, typed);
    }
  };
  return (
    <div className={addToFormCss.foot}>
      <Button ref={button} variant="text" onClick={() => setOpen(true)}>
        {sayWith('Add to the form {kbd}', { kbd: <kbd>/</kbd> })}
      </Button>
      <div className={clsx(textCss.faded, addToFormCss.key)}>{WIRING_KEY}</div>
      <Popover
        action={popover}
        open={open}
        anchorEl={() => button.current}
        onClose={close}
        transitionDuration={0}
        anchorOrigin={{ vertical: 'top', horizontal: 'left' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': say('Add to the form') } }}
      >
        {typing ? (
          <NewFieldOfType
            label={typing.label}
            table={(prepared.subforms.get(typing.lines ?? '')?.form ?? prepared).table}
            onMake={(label, kind) => {
              close();
              void add({ kind: 'newField', lines: typing.lines, ...kind }, label);
            }}
            onCancel={() => setTyping(undefined)}
          />
        ) : (
          <div className={clsx(pickerCss.picker, addToFormCss.picker)}>
            <SearchList
              label={say('What to add')}
              placeholder={say('Type to find, or a name for something new')}
              options={additions}
              onSearch={setText}
              onPick={(value) => pick(value, text.trim())}
            />
            {text.trim() === '' && (
              <div className={pickerCss.hint}>
                {sayWith('{every}Write a name to make a new field, or lines with quantity, price and total.', {
                  every:
                    additions('').every((one) => one.kind !== 'column') &&
                    `${say('Every field of the table is on the form.')} `,
                })}
              </div>
            )}
          </div>
        )}
      </Popover>
    </div>
  );
}

type Making =
  | Exclude<Addition, { kind: 'newField' | 'newFieldOfType' }>
  | {
      readonly kind: 'newField';
      readonly type: string;
      readonly settings?: FieldKind['settings'];
      readonly lines?: string;
    };

/** Puts what was picked into the draft; what is not there yet is made in the tables first. */
function useAdditions({ definition, prepared, selected, onChange }: AddToFormProps) {
  const refresh = useRefreshCabinet();
  const notify = useNotify();
  const beside = lineKey(selected)?.subform ?? selected;
  const place = (field: FieldDefinition): void => onChange(addField(definition, field, beside), field.id);
  const placeInLines = (field: FieldDefinition, lines: string, table: TableDefinition): void => {
    const tables = new Map(prepared.tables).set(table.id, table);
    const after = lineKey(selected)?.key;
    onChange(
      changeLines(definition, lines, tables, (form) => addField(form, field, after)),
      `${lines}/${field.id}`,
    );
  };
  const placeIn = (lines: string | undefined, field: FieldDefinition, table?: TableDefinition): void => {
    const home = table ?? prepared.subforms.get(lines ?? '')?.form.table;
    if (lines === undefined || !home) place(field);
    else placeInLines(field, lines, home);
  };
  const makeField = async (making: Extract<Making, { kind: 'newField' }>, label: string): Promise<void> => {
    const { table: home } = prepared.subforms.get(making.lines ?? '')?.form ?? prepared;
    const known = new Set(home.fields.map((field) => field.id));
    const { table } = await send<{ table: TableDefinition }>('POST', `/api/tables/${home.id}/fields`, {
      field: { label, type: making.type, settings: making.settings ?? {} },
    });
    await refresh();
    const made = table.fields.find((field) => !known.has(field.id));
    if (made) placeIn(making.lines, made, table);
  };
  const makeLines = async (label: string): Promise<void> => {
    const made = await send<MadeLines>('POST', `/api/tables/${prepared.table.id}/lines`, { label });
    await refresh();
    const subform = placeLines(made.lines as TableDefinition, made.link, takenIds(prepared));
    const total = made.table.fields.find((field) => field.id === made.total) as FieldDefinition | undefined;
    const withLines = addItem(definition, subform, beside);
    if (!total) return onChange(withLines, subform.id);
    const item = { ...placeField(total), calculation: `sum(${subform.id}.${made.amount})` };
    onChange(addItem(withLines, item, subform.id), subform.id);
  };
  const words = (kind: 'heading' | 'note', text: string): void => {
    const id = freshItemId(definition, kind);
    onChange(addItem(definition, { kind, id, text }, beside), `#${id}`);
  };
  return async (making: Making, text: string): Promise<void> => {
    try {
      if (making.kind === 'column') placeIn(making.lines, making.field);
      else if (making.kind === 'newField') await makeField(making, text);
      else if (making.kind === 'newLines') await makeLines(text);
      else if (making.kind === 'subform') {
        const plain = placeLines(making.table, making.link, takenIds(prepared));
        const lines = making.part === undefined ? plain : { ...plain, of: making.part };
        onChange(addItem(definition, lines, beside), lines.id);
      } else if (making.kind === 'section') {
        const next = addSection(definition, say('New section'));
        onChange(next, `§${next.sections.at(-1)?.id}`);
      } else words(making.kind, making.kind === 'heading' ? say('Heading') : say('Note'));
    } catch (error) {
      notify((error as Error).message);
    }
  };
}
