import { isConvertible } from '@fiche/core/fields';
import { type DefinedForm, linesInto, type PreparedForm, placeLines } from '@fiche/core/forms';
import { type FieldDefinition, type TableDefinition, typeOf } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { type KeyboardEvent, useRef, useState } from 'react';
import { Link } from 'react-router-dom';
import { send, useRefreshCabinet } from '../client/index.ts';
import { FieldInput, useNotify, useShortcut } from '../parts/index.ts';
import { addField, addItem, addSection, changeLines, freshItemId, lineKey } from './edit.ts';
import { WIRING_KEY } from './Outline.tsx';

interface AddToFormProps {
  readonly definition: DefinedForm;
  readonly prepared: PreparedForm;
  readonly cabinet: string;
  readonly selected?: string;
  onChange(definition: DefinedForm, select?: string): void;
}

interface Addition {
  readonly key: string;
  readonly label: string;
  readonly detail: string;
  add(): void | Promise<void>;
}

/** Types that a new field can have without saying more; others are made with the table. */
const PLAIN = [
  ['text', 'text'],
  ['wholeNumber', 'whole number'],
  ['decimal', 'decimal'],
  ['amount', 'amount'],
  ['account', 'account'],
  ['yesNo', 'yes or no'],
  ['date', 'date'],
  ['dateTime', 'date and time'],
  ['longText', 'long text'],
] as const;

/** Adds to the form: columns of the table first, then a new one, words, a section. Opens with `/`. */
export function AddToForm({ definition, prepared, cabinet, selected, onChange }: AddToFormProps) {
  const button = useRef<HTMLButtonElement>(null);
  const [open, setOpen] = useState(false);
  const [search, setSearch] = useState('');
  const [active, setActive] = useState(0);
  const refresh = useRefreshCabinet();
  const notify = useNotify();
  useShortcut('addToForm', open ? undefined : () => setOpen(true), { whileTyping: false });
  const words = search.trim();
  const missing = prepared.table.fields.filter(
    (field) => !prepared.fields.get(field.id)?.placed && field.label.toLowerCase().includes(words.toLowerCase()),
  );
  const place = (field: FieldDefinition): void => onChange(addField(definition, field, selected), field.id);
  const inLines = prepared.subforms.get(lineKey(selected)?.subform ?? selected ?? '');
  const ofLines = (inLines?.form.table.fields ?? []).filter(
    (field) =>
      field.id !== inLines?.definition.link &&
      !inLines?.form.fields.get(field.id)?.placed &&
      field.label.toLowerCase().includes(words.toLowerCase()),
  );
  const addColumn = (field: FieldDefinition): void => {
    if (!inLines) return;
    const after = lineKey(selected)?.key;
    const next = changeLines(definition, inLines.id, prepared.tables, (lines) => addField(lines, field, after));
    onChange(next, `${inLines.id}/${field.id}`);
  };
  const subforms = linesInto(prepared.tables, prepared.table.id)
    .filter((one) => one.table.cabinet === prepared.table.cabinet)
    .filter(
      (one) =>
        ![...prepared.subforms.values()].some(({ definition: d }) => d.table === one.table.id && d.link === one.link),
    )
    .filter((one) => one.table.label.toLowerCase().includes(words.toLowerCase()));
  const addLines = ({ table, link }: (typeof subforms)[number]): void => {
    const taken = new Set([...prepared.table.fields.map((field) => field.id), ...prepared.subforms.keys()]);
    const lines = placeLines(table, link, taken);
    onChange(addItem(definition, lines, lineKey(selected)?.subform ?? selected), lines.id);
  };
  const make = async (label: string, type: string): Promise<void> => {
    try {
      const known = new Set(prepared.table.fields.map((field) => field.id));
      const { table } = await send<{ table: TableDefinition }>('POST', `/api/tables/${prepared.table.id}/fields`, {
        field: { label, type },
      });
      await refresh();
      const made = table.fields.find((field) => !known.has(field.id));
      if (made) place(made);
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const item = (kind: 'heading' | 'note', text: string): void => {
    const id = freshItemId(definition, kind);
    onChange(addItem(definition, { kind, id, text }, selected), `#${id}`);
  };
  const taken = prepared.table.fields.some((field) => field.label.toLowerCase() === words.toLowerCase());
  const matches = (label: string): boolean => label.toLowerCase().includes(words.toLowerCase());
  const others: Addition[] = [
    { key: 'heading', label: 'Heading', detail: 'words above fields', add: () => item('heading', 'Heading') },
    { key: 'note', label: 'Note', detail: 'words that explain', add: () => item('note', 'Note') },
    {
      key: 'section',
      label: 'Section',
      detail: 'with a heading of its own',
      add: () => {
        const next = addSection(definition, 'New section');
        onChange(next, `§${next.sections.at(-1)?.id}`);
      },
    },
  ].filter((one) => words === '' || matches(one.label));
  // Whoever writes the whole word means it.
  const exact = others.some((one) => one.label.toLowerCase() === words.toLowerCase());
  const additions: Addition[] = [
    ...ofLines.map((field) => ({
      key: `line-${field.id}`,
      label: field.label,
      detail: `${typeOf(field).word}, of the lines`,
      add: () => addColumn(field),
    })),
    ...missing.map((field) => ({
      key: field.id,
      label: field.label,
      detail: typeOf(field).word,
      add: () => place(field),
    })),
    ...subforms.map((one) => ({
      key: `lines-${one.table.id}-${one.link}`,
      label: one.table.label,
      detail: `subform: its ${one.label} is this record`,
      add: () => addLines(one),
    })),
    ...(exact ? others : []),
    ...(words !== '' && !taken
      ? PLAIN.filter(([type]) => isConvertible(type) || type === 'yesNo').map(([type, word]) => ({
          key: `new-${type}`,
          label: `New field “${words}”`,
          detail: word,
          add: () => make(words, type),
        }))
      : []),
    ...(exact ? [] : others),
  ];
  const close = (): void => {
    setOpen(false);
    setSearch('');
    setActive(0);
  };
  const take = (addition: Addition | undefined): void => {
    close();
    void addition?.add();
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key === 'ArrowDown') setActive(Math.min(active + 1, additions.length - 1));
    else if (event.key === 'ArrowUp') setActive(Math.max(active - 1, 0));
    else if (event.key === 'Enter') take(additions[active]);
    else return;
    event.preventDefault();
  };
  return (
    <div className="outline-foot">
      <Button ref={button} variant="text" onClick={() => setOpen(true)}>
        Add to the form <kbd>/</kbd>
      </Button>
      <div className="faded wiring-key">{WIRING_KEY}</div>
      <Popover
        open={open}
        anchorEl={() => button.current}
        onClose={close}
        transitionDuration={0}
        anchorOrigin={{ vertical: 'top', horizontal: 'left' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Add to the form' } }}
      >
        <div className="picker">
          <FieldInput
            autoFocus
            aria-label="What to add"
            placeholder="Type to find, or a label for a new field"
            value={search}
            onKeyDown={onKeyDown}
            onChange={(event) => {
              setSearch(event.target.value);
              setActive(0);
            }}
          />
          <ul>
            {additions.map((one, n) => (
              <li key={one.key} className={n === active ? 'active' : ''} onClick={() => take(one)}>
                {one.label}
                <small>{one.detail}</small>
              </li>
            ))}
          </ul>
          <div className="picker-hint">
            {missing.length === 0 && words === '' && 'Every field of the table is on the form. '}
            Links, choices and the like are made with{' '}
            <Link to={`/${cabinet}/tables/${prepared.table.id}?fields`}>the table</Link>.
          </div>
        </div>
      </Popover>
    </div>
  );
}
