import { type FieldDefinition, type TableDefinition, type Tables, typeOf } from '@fiche/core/tables';
import { send, useOffice, useRefreshCabinet } from '../client/index.ts';
import { Sentence, type Slot, useSay } from '../parts/index.ts';
import { AddField } from './AddField.tsx';

const YES_NO = (yes: string, no: string) => [
  { value: 'yes', label: yes },
  { value: 'no', label: no },
];

/** A table's fields, each as one sentence, and the way to add one. */
export function FieldsTab({ table }: { table: TableDefinition }) {
  const refresh = useRefreshCabinet();
  const say = useSay();
  const change = async (url: string, body: object): Promise<void> => {
    try {
      await send('PATCH', url, body);
      await refresh();
    } catch (error) {
      say((error as Error).message);
    }
  };
  const titles = table.fields.filter((field) => field.type !== 'link' && field.type !== 'longText');
  return (
    <>
      {table.fields.length > 0 && (
        <Sentence
          parts={[
            'A record of ',
            {
              key: 'label',
              label: 'label of the table',
              shown: table.label,
              pick: { kind: 'text', current: table.label },
              onSet: (label) => void change(`/api/tables/${table.id}`, { label }),
            },
            ' is named by its ',
            {
              key: 'title',
              label: 'field that names a record',
              side: 'choices',
              shown: table.fields.find((field) => field.id === table.title)?.label ?? 'number',
              pick: {
                kind: 'options',
                options: titles.map((field) => ({ value: field.id, label: field.label })),
                current: table.title ?? '',
              },
              onSet: (title) => void change(`/api/tables/${table.id}`, { title }),
            },
            '.',
          ]}
        />
      )}
      {table.fields.length > 0 && (
        <div className="list-card">
          <table className="list">
            <thead>
              <tr>
                <th scope="col">Field</th>
                <th scope="col">Column</th>
                <th scope="col">What it is</th>
                <th scope="col">
                  <span className="visually-hidden">Order</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {table.fields.map((field, at) => (
                <FieldRow
                  key={field.id}
                  table={table}
                  field={field}
                  at={at}
                  onChange={(body) => change(`/api/tables/${table.id}/fields/${field.id}`, body)}
                />
              ))}
            </tbody>
          </table>
        </div>
      )}
      <AddField table={table} />
    </>
  );
}

interface FieldRowProps {
  readonly table: TableDefinition;
  readonly field: FieldDefinition;
  readonly at: number;
  onChange(body: object): Promise<void>;
}

function FieldRow({ table, field, at, onChange }: FieldRowProps) {
  const { tables } = useOffice();
  const label: Slot = {
    key: 'label',
    label: 'label',
    shown: field.label,
    pick: { kind: 'text', current: field.label },
    onSet: (text) => void onChange({ label: text }),
  };
  const required: Slot = {
    key: 'required',
    label: 'whether it is required',
    shown: field.required ? 'required' : 'not required',
    pick: { kind: 'options', options: YES_NO('required', 'not required'), current: field.required ? 'yes' : 'no' },
    onSet: (value) => void onChange({ required: value === 'yes' }),
  };
  const help: Slot = {
    key: 'help',
    label: 'help text',
    shown: field.help || 'no help text',
    pick: { kind: 'text', current: field.help },
    onSet: (text) => void onChange({ help: text }),
  };
  const given = !typeOf(field).editable;
  return (
    <tr>
      <td style={{ width: 190 }}>
        <Sentence parts={[label]} />
      </td>
      <td className="mono faded" style={{ width: 150 }}>
        {field.id}
      </td>
      <td>
        <Sentence
          parts={[
            'A ',
            typeOf(field).word,
            furtherWords(field, tables),
            given ? ', given on save, ' : ', ',
            ...(given ? [] : [required, field.unique ? ', unique, ' : ', ']),
            'with ',
            help,
            '.',
          ]}
        />
      </td>
      <td style={{ whiteSpace: 'nowrap' }}>
        <button
          type="button"
          className="link step"
          aria-label={`Move ${field.label} up`}
          disabled={at === 0}
          onClick={() => void onChange({ position: at - 1 })}
        >
          ↑
        </button>{' '}
        <button
          type="button"
          className="link step"
          aria-label={`Move ${field.label} down`}
          disabled={at === table.fields.length - 1}
          onClick={() => void onChange({ position: at + 1 })}
        >
          ↓
        </button>
      </td>
    </tr>
  );
}

/** The settings of a field that follow its type, in words. */
function furtherWords(field: FieldDefinition, tables: Tables): string {
  const { table, choices, level, unit, prefix, withYear, least, most } = field.settings as Record<string, unknown>;
  const words: string[] = [];
  if (typeof table === 'string') words.push(` to ${tables.get(table)?.label ?? table}`);
  if (Array.isArray(choices) && choices.length > 0)
    words.push(` of ${choices.slice(0, 6).join(', ')}${choices.length > 6 ? '…' : ''}`);
  if (level) words.push(` of the option list ${tables.get((level as { table: string }).table)?.label ?? ''}`);
  if (typeof unit === 'string') words.push(` in ${unit}`);
  if (least !== undefined) words.push(`, at least ${least}`);
  if (most !== undefined) words.push(`, at most ${most}`);
  if (typeof prefix === 'string') words.push(` such as ${prefix}${withYear ? '2026-' : ''}00001`);
  return words.join('');
}
