import { fieldType, isConvertible } from '@fiche/core/fields';
import { formatCount } from '@fiche/core/office';
import type { FieldDefinition, Initial, TableDefinition } from '@fiche/core/tables';
import { type ReactNode, useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { Sentence, type Slot, useSay } from '../parts/index.ts';
import { ExpressionEditor } from '../sentences/index.ts';
import { ChangeType } from './ChangeType.tsx';
import { settingsOf, showSetting, withSetting } from './settings.ts';
import { TableNarrowing } from './TableNarrowing.tsx';
import { type BrokenRecord, Trial } from './Trial.tsx';
import type { ChangeTable } from './useTableWork.tsx';

interface FieldRowProps {
  readonly table: TableDefinition;
  readonly field: FieldDefinition;
  readonly at: number;
  readonly change: ChangeTable;
}

interface Held {
  readonly heading: string;
  readonly breaks: number;
  readonly examples: readonly BrokenRecord[];
  /** Sets it all the same: for limits, which are held when a record is next saved. */
  readonly anyway?: () => void;
}

/** A field as one sentence whose every part can be set, and its place in the table. */
export function FieldRow({ table, field, at, change }: FieldRowProps) {
  const { cabinet, tables } = useOffice();
  const say = useSay();
  const [held, setHeld] = useState<Held>();
  const [typing, setTyping] = useState(false);
  const base = `/api/tables/${table.id}`;
  const patch = (body: object): Promise<boolean> =>
    change('PATCH', `${base}/fields/${field.id}`, { ...body, revision: table.revision });
  const type = fieldType(field.type);

  /** Asks first how many records break it. */
  const tryFirst = async (
    hold: object,
    set: () => Promise<boolean>,
    what: string,
    mayAnyway: boolean,
  ): Promise<void> => {
    try {
      const found = await send<Held>('POST', `${base}/trial`, hold);
      if (found.breaks === 0) {
        setHeld(undefined);
        await set();
        return;
      }
      const records = found.breaks === 1 ? '1 record breaks' : `${formatCount(found.breaks)} records break`;
      const anyway = (): void => {
        setHeld(undefined);
        void set();
      };
      setHeld({ ...found, heading: `${records} this already: ${what}.`, ...(mayAnyway ? { anyway } : {}) });
    } catch (error) {
      say((error as Error).message);
    }
  };
  const switched = (key: 'required' | 'unique', on: string, off: string): Slot => ({
    key,
    label: `whether it is ${key}`,
    shown: field[key] ? on : off,
    quiet: !field[key],
    pick: {
      kind: 'options',
      options: [
        { value: 'yes', label: on },
        { value: 'no', label: off },
      ],
      current: field[key] ? 'yes' : 'no',
    },
    onSet: (value) => {
      if (value === 'no') void patch({ [key]: false });
      else
        void tryFirst({ kind: key, field: field.id }, () => patch({ [key]: true }), `${field.label} is ${on}`, false);
    },
  });
  const limits = settingsOf(field.type, field.settings).flatMap((one): (string | Slot)[] => [
    one.before,
    {
      key: one.key,
      label: one.label,
      shown: showSetting(field.type, field.settings, one).shown,
      quiet: showSetting(field.type, field.settings, one).text === '',
      pick: one.options
        ? { kind: 'options', options: [...one.options], current: String(field.settings[one.key] ?? '') }
        : { kind: 'text', current: showSetting(field.type, field.settings, one).text, hint: one.hint },
      onSet: (text) => {
        try {
          const settings = withSetting(field.type, field.settings, one, text);
          void tryFirst(
            { kind: 'limits', field: field.id, settings },
            () => patch({ settings }),
            `${one.label} ${text}`,
            true,
          );
        } catch (error) {
          say((error as Error).message);
        }
      },
    },
    ...(one.key === 'patternMessage' ? [')'] : []),
  ]);
  const calculated = field.calculation !== null;
  const calculation: Slot = {
    key: 'calculation',
    label: 'how it is calculated',
    shown: calculated ? `calculated as ${field.calculation}` : 'filled in by people',
    quiet: !calculated,
    pick: {
      kind: 'editor',
      edit: (done) => (
        <>
          <ExpressionEditor
            label={`Calculation of ${field.label}`}
            current={field.calculation ?? ''}
            fields={table.fields.filter((one) => one.id !== field.id)}
            tables={tables}
            into={field}
            now=""
            onSet={(source) => void patch({ calculation: source })}
            onClose={done}
          />
          <p className="picker-hint">Records that are there keep what they hold until they are saved again.</p>
          {calculated && (
            <button
              type="button"
              className="link picker-hint"
              onClick={() => {
                done();
                void patch({ calculation: null });
              }}
            >
              Let people fill it in
            </button>
          )}
        </>
      ),
    },
    onSet: () => undefined,
  };
  const parts: (string | Slot)[] = [
    /^[aeiou]/.test(type.word) ? 'An ' : 'A ',
    type.editable && isConvertible(field.type)
      ? {
          key: 'type',
          label: 'type of the field',
          shown: type.word,
          pick: { kind: 'options', options: [{ value: 'change', label: 'Change the type…' }] },
          onSet: () => setTyping(true),
        }
      : type.word,
    fixedWords(field, (id) => tables.get(id)?.label ?? id),
    ...limits,
    ...(type.editable
      ? [
          ...(field.type === 'links'
            ? []
            : [
                ', ',
                switched('required', 'required', 'not required'),
                ', ',
                switched('unique', 'unique', 'not unique'),
              ]),
          ...(calculated ? [] : [', beginning with ', initialSlot(field, (initial) => void patch({ initial }), say)]),
          ...(field.type === 'link' || field.type === 'links' || field.type === 'choices' ? [] : [', ', calculation]),
        ]
      : [', given on save']),
    ', with ',
    {
      key: 'help',
      label: 'help text',
      shown: field.help || 'no help text',
      quiet: field.help === '',
      pick: { kind: 'text', current: field.help },
      onSet: (help) => void patch({ help }),
    },
    '.',
  ];
  return (
    <tr>
      <td style={{ width: 170 }}>
        <Sentence
          parts={[
            {
              key: 'label',
              label: 'label',
              shown: field.label,
              pick: { kind: 'text', current: field.label },
              onSet: (label) => void patch({ label }),
            },
          ]}
        />
      </td>
      <td className="mono faded" style={{ width: 140 }}>
        {field.id}
      </td>
      <td>
        <Sentence parts={parts} />
        {(field.type === 'link' || field.type === 'links') && (
          <TableNarrowing
            table={table}
            field={field}
            onChange={(narrowing) =>
              narrowing === null
                ? void patch({ narrowing })
                : void tryFirst(
                    { kind: 'narrowing', field: field.id, narrowing },
                    () => patch({ narrowing }),
                    `${field.label} is narrowed`,
                    true,
                  )
            }
          />
        )}
        {held && (
          <Trial
            heading={held.heading}
            path={`/${cabinet.id}/tables/${table.id}`}
            breaks={held.breaks}
            examples={held.examples}
          >
            {held.anyway && (
              <button type="button" className="button" onClick={held.anyway}>
                Set it for records saved from now on
              </button>
            )}
            <button type="button" className="button plain" onClick={() => setHeld(undefined)}>
              Leave it as it is
            </button>
          </Trial>
        )}
        {typing && <ChangeType table={table} field={field} change={change} onClose={() => setTyping(false)} />}
      </td>
      <td style={{ whiteSpace: 'nowrap' }}>
        <Step label={`Move ${field.label} up`} disabled={at === 0} onStep={() => patch({ position: at - 1 })}>
          ↑
        </Step>{' '}
        <Step
          label={`Move ${field.label} down`}
          disabled={at === table.fields.length - 1}
          onStep={() => patch({ position: at + 1 })}
        >
          ↓
        </Step>{' '}
        <Step label={`Retire ${field.label}`} onStep={() => change('POST', `${base}/fields/${field.id}/retire`, {})}>
          Retire
        </Step>
      </td>
    </tr>
  );
}

function Step(props: { label: string; disabled?: boolean; children: ReactNode; onStep(): Promise<boolean> }) {
  return (
    <button
      type="button"
      className="link step"
      aria-label={props.label}
      disabled={props.disabled}
      onClick={() => void props.onStep()}
    >
      {props.children}
    </button>
  );
}

/** What a field was made with and keeps, in words. */
function fixedWords({ settings }: FieldDefinition, labelOf: (table: string) => string): string {
  const { table, level, prefix, withYear, places, currency } = settings as Record<string, unknown>;
  if (typeof currency === 'string') return ` in ${currency}`;
  if (typeof table === 'string') return ` to ${labelOf(table)}`;
  if (level) return ` of the option list ${labelOf((level as { table: string }).table)}`;
  if (typeof prefix === 'string') return ` such as ${prefix}${withYear ? '2026-' : ''}00001`;
  return typeof places === 'number' ? ` of ${places} places` : '';
}

const MOMENTS: Readonly<Record<string, Initial>> = {
  today: { kind: 'today' },
  now: { kind: 'now' },
  account: { kind: 'account' },
};

/** The default of a field: nothing, a value, or what the moment gives. */
function initialSlot(
  field: FieldDefinition,
  onSet: (initial: Initial | null) => void,
  say: (words: string) => void,
): Slot {
  const { initial } = field;
  const shown =
    initial === null
      ? 'nothing'
      : initial.kind === 'value'
        ? initial.value === null
          ? 'nothing'
          : fieldType(field.type).format(initial.value, field.settings)
        : initial.kind === 'calculation'
          ? `= ${initial.source}`
          : { today: 'today', now: 'the present moment', account: 'the account' }[initial.kind];
  const offered = { date: 'today', time: 'now', dateTime: 'today or now', text: 'account', account: 'account' }[
    field.type
  ];
  return {
    key: 'initial',
    label: 'what a new record begins with',
    shown,
    quiet: shown === 'nothing',
    pick: {
      kind: 'text',
      current:
        initial === null || shown === 'nothing'
          ? ''
          : initial.kind === 'value' || initial.kind === 'calculation'
            ? shown
            : initial.kind,
      hint: `A value${offered ? `, or ${offered}` : ''}, or = and a calculation; empty for nothing.`,
    },
    onSet: (text) => {
      const moment = offered === undefined ? undefined : MOMENTS[text.trim().toLowerCase()];
      if (moment) return onSet(moment);
      if (text.trim().startsWith('=') && text.trim().length > 1)
        return onSet({ kind: 'calculation', source: text.trim().slice(1).trim() });
      const read = fieldType(field.type).parse(text, field.settings);
      if (!read.ok) return say(read.message);
      onSet(read.value === null ? null : { kind: 'value', value: read.value });
    },
  };
}
