import { linksOne, takesWord } from '@fiche/core/fields';
import type { Fill } from '@fiche/core/fills';
import type { PreparedField } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { type TableDefinition, typeOf } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { type Phrase, RemoveSentence, Sentence, type Slot } from '../parts/index.ts';
import { changeField } from './edit.ts';
import type { FieldSettingsProps } from './fieldSettingsProps.ts';
import {
  beginFill,
  columnsFor,
  type Filling,
  freeTargets,
  fromWords,
  likelyKey,
  targetsOf,
  withPair,
  withTarget,
} from './fillPairs.ts';
import panelCss from './panel.module.css';

const POLICIES = [
  { value: 'replace', label: say('replacing what is there') },
  { value: 'keep', label: say('keeping what is there') },
  { value: 'ask', label: say('asking when something is there') },
];
const WHEN_NONE = [
  { value: 'message', label: say('say so') },
  { value: 'offer', label: say('say so, and offer to add it') },
  { value: 'refuse', label: say('refuse to save') },
  { value: 'nothing', label: say('do nothing') },
];

const optionsOf = (some: readonly { readonly id: string; readonly label: string }[]) =>
  some.map(({ id, label }) => ({ value: id, label }));

/** Whether a field can find a record to fill from: a link by choosing, plain text, numbers and dates by a typed key. */
export const canFill = ({ field, readOnly }: PreparedField): boolean =>
  !readOnly && (linksOne(field) || (!takesWord(field) && ['text', 'number', 'date'].includes(typeOf(field).family)));

/** "Choosing a Vessel fills Length with its Length": what choosing, or typing a key, copies into other fields. */
export function FillSentences(props: FieldSettingsProps) {
  const { definition, prepared, field, onChange } = props;
  const { fill } = field;
  const set = (next: Fill | null): void => onChange(changeField(definition, field.id, { fill: next }));
  if (!fill) return <NewFill {...props} set={set} />;
  const filling = { tables: prepared.tables, fill, targets: targetsOf(prepared, field) };
  const free = freeTargets(filling);
  return (
    <>
      <Sentence
        parts={leadOf(filling, field, set)}
        end={<RemoveSentence what={say('what this field fills')} onRemove={() => set(null)} />}
      />
      <ul className={panelCss.pairs}>
        {fill.pairs.map((pair, at) => (
          <li key={pair.to}>
            <PairSentence filling={filling} at={at} whose={prepared.enclosure ? 'line' : 'form'} set={set} />
          </li>
        ))}
      </ul>
      {free.length > 0 && (
        <Sentence
          parts={[
            `${say('Fill')} `,
            {
              key: 'add',
              label: say('further field to fill'),
              shown: say('another field'),
              pick: { kind: 'options', options: optionsOf(free) },
              onSet: (to) => set(withTarget(filling, to)),
            },
            ` ${say('too.')}`,
          ]}
        />
      )}
    </>
  );
}

/** A field that fills nothing yet: a link fills by choosing, others by a table in which their value is looked up. */
function NewFill({ prepared, field, set }: FieldSettingsProps & { set(fill: Fill): void }) {
  if (linksOne(field.field))
    return (
      <Button variant="text" onClick={() => set(beginFill(prepared, field, String(field.field.settings.table), null))}>
        {say('Fill other fields from the chosen record')}
      </Button>
    );
  const sources = [...prepared.tables.values()].filter((table) => keysOf(table, field).length > 0);
  const start: Slot = {
    key: 'table',
    label: say('table to look in'),
    side: 'choices',
    shown: say('a table'),
    onSet: (table) => {
      const key = likelyKey(prepared, table, field);
      if (key !== undefined) set(beginFill(prepared, field, table, key));
    },
    pick: { kind: 'options', options: optionsOf(sources) },
  };
  return (
    <Sentence
      parts={[`${say('On leaving the field, look its value up in')} `, start, ` ${say('to fill other fields.')}`]}
    />
  );
}

/** The columns by which a typed value can find a record. */
const keysOf = (table: TableDefinition | undefined, { field }: PreparedField) =>
  (table?.fields ?? []).filter((column) => typeOf(column).family === typeOf(field).family);

/** What the fill begins with: how a record is found, and what happens when there is none. */
function leadOf({ tables, fill }: Filling, field: PreparedField, set: (fill: Fill) => void): Phrase {
  const none = fill.pairs.length === 0;
  if (fill.key === null) return [say('Choosing one fills'), none ? ` ${say('nothing yet.')}` : ':'];
  const table = tables.get(fill.table);
  return [
    `${say('On leaving the field, the record of')} `,
    table?.label ?? '',
    ` ${say('whose')} `,
    {
      key: 'key',
      label: say('key column of {label}', { label: table?.label ?? '' }),
      side: 'choices',
      shown: table?.fields.find((one) => one.id === fill.key)?.label ?? '',
      pick: { kind: 'options', current: fill.key, options: optionsOf(keysOf(table, field)) },
      onSet: (key) => set({ ...fill, key }),
    },
    ` ${say('it is fills')}`,
    none ? ` ${say('nothing yet')}` : '',
    `${say('; when there is none,')} `,
    {
      key: 'none',
      label: say('what happens when no record is found'),
      shown: WHEN_NONE.find((one) => one.value === fill.whenNone)?.label ?? '',
      pick: { kind: 'options', options: WHEN_NONE, current: fill.whenNone },
      onSet: (value) => set({ ...fill, whenNone: value as Fill['whenNone'] }),
    },
    '.',
  ];
}

interface PairSentenceProps {
  readonly filling: Filling;
  /** RecordToTry pair of the fill. */
  readonly at: number;
  readonly whose: 'form' | 'line';
  set(fill: Fill): void;
}

/** "this form’s Length with its Length, replacing what is there". */
function PairSentence({ filling, at, whose, set }: PairSentenceProps) {
  const { tables, fill, targets } = filling;
  const pair = fill.pairs[at];
  if (!pair) return null;
  const target = targets.find((one) => one.id === pair.to);
  const label = target?.label ?? pair.to;
  return (
    <Sentence
      parts={[
        `${say('this {whose}’s', { whose })} `,
        {
          key: 'to',
          label: say('field of this form'),
          side: 'form',
          shown: label,
          pick: {
            kind: 'options',
            current: pair.to,
            options: optionsOf([...freeTargets(filling), ...(target ? [target] : [])]),
          },
          onSet: (to) => set(withPair(filling, at, { to })),
        },
        pair.from === 'self' ? ` ${say('with')} ` : ` ${say('with its')} `,
        {
          key: 'from',
          label: say('column of {label}', { label: tables.get(fill.table)?.label ?? '' }),
          side: 'choices',
          shown: fromWords(filling, pair),
          pick: { kind: 'options', current: pair.from, options: columnsFor(filling, pair.to) },
          onSet: (from) => set(withPair(filling, at, { from })),
        },
        ', ',
        {
          key: 'policy',
          label: say('what happens to a value that is there'),
          shown: POLICIES.find((one) => one.value === pair.policy)?.label ?? '',
          pick: { kind: 'options', current: pair.policy, options: POLICIES },
          onSet: (policy) => set(withPair(filling, at, { policy: policy as typeof pair.policy })),
        },
      ]}
      end={
        <RemoveSentence
          what={say('the fill of {label}', { label })}
          onRemove={() => set(withPair(filling, at, undefined))}
        />
      }
    />
  );
}
