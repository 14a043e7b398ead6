import { all, is } from '@fiche/core/conditions';
import { holdsAddress, isBlank, linksOne } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { eventLabel, eventTable, MESSAGE_PLACES, proposeValues, targetOf } from '@fiche/core/ripples';
import { findField, isGiven, type RippleEffect, type RippleValue, type TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useOffice } from '../client/index.ts';
import {
  type Phrase,
  PlaceSlot,
  RemoveSentence,
  Sentence,
  type Slot,
  type SlotOption,
  textCss,
} from '../parts/index.ts';
import { formSides, sidesOf, useRecordTitles } from '../sentences/index.ts';
import ripplesCss from './ripples.module.css';
import { ValueSentence } from './ValueSentence.tsx';

interface EffectSentencesProps {
  readonly effect: RippleEffect;
  readonly table: TableDefinition;
  /** Its place among the effects, from 0. */
  readonly at: number;
  readonly now: string;
  onChange(effect: RippleEffect): void;
  onRemove(): void;
}

/** One thing that a ripple does, as sentences. */
export function EffectSentences(props: EffectSentencesProps) {
  const { effect, at, onRemove } = props;
  const begin = at === 0 ? '' : `${say('then')} `;
  const end = <RemoveSentence what={say('effect {at}', { at: at + 1 })} onRemove={onRemove} />;
  return (
    <div className={ripplesCss.effect}>
      {effect.does === 'message' ? (
        <MessageSentences {...props} effect={effect} begin={begin} end={end} />
      ) : (
        <WritingSentences {...props} effect={effect} begin={begin} end={end} />
      )}
    </div>
  );
}

type PartProps<Does extends RippleEffect['does']> = Omit<EffectSentencesProps, 'effect'> & {
  readonly effect: Extract<RippleEffect, { does: Does }>;
  readonly begin: string;
  readonly end: React.ReactNode;
};

/** The tables that a ripple can add lines to, and the links of the record whose record it can change. */
export const targetOptions = (table: TableDefinition, all: Iterable<TableDefinition>): SlotOption[] =>
  [...all]
    .filter((one) => one.cabinet === table.cabinet && one.kind === 'records' && !one.archived && one.fields.length > 0)
    .map((one) => ({ value: one.id, label: one.label, detail: one.description.slice(0, 60) }));

export const linkOptions = (table: TableDefinition): SlotOption[] =>
  eventTable(table)
    .fields.filter((field) => linksOne(field))
    .map((field) => ({ value: field.id, label: field.label, detail: say('the record that it points at') }));

function WritingSentences({ effect, table, now, begin, end, onChange }: PartProps<'add' | 'change'>) {
  const { tables } = useOffice();
  const target = targetOf(effect, table, tables);
  const titles = useTitlesOf(effect.values, target);
  const taken = new Set(effect.values.map((one) => one.to as string));
  const free = (target?.fields ?? []).filter((field) => !isGiven(field) && !taken.has(field.id));
  const setValues = (values: readonly RippleValue[]): void => onChange({ ...effect, values: [...values] });
  const lead: Phrase =
    effect.does === 'add'
      ? [
          `${say('{begin}add a line to', { begin })} `,
          {
            key: 'table',
            label: say('table that gets the line'),
            shown: target?.label ?? '…',
            pick: { kind: 'options', options: targetOptions(table, tables.values()), current: effect.table },
            onSet: (id) => {
              const next = tables.get(id);
              if (next) onChange({ ...effect, table: id, values: proposeValues(table, next, tables) });
            },
          },
          ` ${say('with')}`,
        ]
      : [
          `${say('{begin}change the record at', { begin })} `,
          {
            key: 'link',
            label: say('link to the record'),
            shown: eventLabel(table, tables, effect.link),
            pick: { kind: 'options', options: linkOptions(table), current: effect.link },
            onSet: (link) => onChange({ ...effect, link, values: [] }),
          },
          ': set',
        ];
  return (
    <>
      <Sentence parts={lead} end={end} />
      {target &&
        effect.values.map((value, at) => (
          <ValueSentence
            key={value.to}
            {...{ value, table, target, now, titles }}
            onChange={(next) => setValues(effect.values.map((one, place) => (place === at ? next : one)))}
            onRemove={() => setValues(effect.values.filter((_one, place) => place !== at))}
          />
        ))}
      {target && free.length > 0 && (
        <Sentence
          indent={1}
          parts={[
            {
              key: `free ${taken.size}`,
              label: say('another field of {label}', { label: target.label }),
              shown: say('+ Field'),
              quiet: true,
              pick: {
                kind: 'options',
                options: free.map((field) => ({
                  value: field.id,
                  label: field.label,
                  detail: field.required ? 'required' : '',
                })),
              },
              onSet: (to) => setValues([...effect.values, { to, from: { kind: 'value', value: null } }]),
            },
          ]}
        />
      )}
    </>
  );
}

/** The titles of the records that constants of an effect name. */
function useTitlesOf(values: readonly RippleValue[], target: TableDefinition | undefined): ReadonlyMap<string, string> {
  const { tables } = useOffice();
  const named = values.flatMap(({ to, from }) =>
    from.kind === 'value' && linksOne(findField(target, to)) && !isBlank(from.value)
      ? [is({ kind: 'form', path: to }, { kind: 'constant', value: Number(from.value) })]
      : [],
  );
  return useRecordTitles(formSides(tables, target?.fields ?? []), all(...named));
}

const accountOption = (login: string, label: string): SlotOption => ({
  value: JSON.stringify({ kind: 'account', login }),
  label,
  detail: say('the account {login}', { login }),
});

function MessageSentences({ effect, table, begin, end, onChange }: PartProps<'message'>) {
  const { cabinet, tables } = useOffice();
  const people = cabinet.accounts.filter((one) => !one.closed);
  const event = eventTable(table);
  const fields = sidesOf(tables, event.fields, 'form', say('of {label}', { label: table.label })).filter((one) =>
    holdsAddress(one.field),
  );
  const to: Slot = {
    key: 'to',
    label: say('whom the message is for'),
    shown: effect.to.kind === 'account' ? effect.to.login || '…' : eventLabel(table, tables, effect.to.path),
    pick: {
      kind: 'options',
      current: JSON.stringify(effect.to),
      options: [
        ...fields.map((one) => ({
          value: JSON.stringify({ kind: 'field', path: 'path' in one.operand ? one.operand.path : '' }),
          label: one.label,
          detail: one.detail,
        })),
        ...people.map((one) => accountOption(one.login, one.displayName)),
      ],
    },
    onSet: (picked) => onChange({ ...effect, to: JSON.parse(picked) as typeof effect.to }),
  };
  return (
    <>
      <Sentence parts={[`${say('{begin}send a message to', { begin })} `, to, '.']} end={end} />
      <div className={ripplesCss.message}>
        <TextField
          label={say('Subject')}
          value={effect.subject}
          fullWidth
          slotProps={{ htmlInput: { maxLength: 200 } }}
          onChange={(change) => onChange({ ...effect, subject: change.target.value })}
        />
        <TextField
          label={say('Text')}
          value={effect.text}
          multiline
          minRows={3}
          fullWidth
          slotProps={{ htmlInput: { maxLength: 5_000 } }}
          onChange={(change) => onChange({ ...effect, text: change.target.value })}
        />
        <PlaceButtons table={table} onPut={(place) => onChange({ ...effect, text: `${effect.text}${place}` })} />
      </div>
    </>
  );
}

/** What can stand in the text: put at its end by a press. */
function PlaceButtons({ table, onPut }: { table: TableDefinition; onPut(place: string): void }) {
  const { tables } = useOffice();
  const event = eventTable(table);
  const options: SlotOption[] = [
    ...Object.entries(MESSAGE_PLACES).map(([name, words]) => ({
      value: `{${name}}`,
      label: say(words),
      detail: `{${name}}`,
    })),
    ...sidesOf(tables, event.fields, 'form', '').flatMap((one) =>
      'path' in one.operand
        ? [{ value: `{${one.operand.path}}`, label: one.label, detail: `{${one.operand.path}}` }]
        : [],
    ),
  ];
  return <PlaceSlot options={options} onPut={onPut} />;
}

/** Adds something that a ripple does. */
export function AddEffect({
  table,
  first,
  onAdd,
}: {
  table: TableDefinition;
  first: boolean;
  onAdd(effect: RippleEffect): void;
}) {
  const { tables, session } = useOffice();
  const links = linkOptions(table);
  const address = sidesOf(tables, table.fields, 'form', '').find((one) => holdsAddress(one.field));
  const to =
    address && 'path' in address.operand
      ? ({ kind: 'field', path: address.operand.path } as const)
      : ({ kind: 'account', login: session.login ?? '' } as const);
  const add: Slot = {
    key: 'add',
    label: say('table that gets a line'),
    shown: say('+ Add a line to a table'),
    quiet: true,
    pick: { kind: 'options', options: targetOptions(table, tables.values()) },
    onSet: (id) => {
      const target = tables.get(id);
      if (target) onAdd({ does: 'add', table: id, values: proposeValues(table, target, tables) });
    },
  };
  const change: Slot = {
    key: 'change',
    label: say('link to the record that is changed'),
    shown: say('+ Change a linked record'),
    quiet: true,
    pick: { kind: 'options', options: links },
    onSet: (link) => onAdd({ does: 'change', link, values: [] }),
  };
  return (
    <div className={ripplesCss.addEffect}>
      {first && <span className={textCss.faded}>{say('What does it do?')}</span>}
      <Sentence parts={[add]} />
      {links.length > 0 && <Sentence parts={[change]} />}
      <Button
        variant="text"
        onClick={() => onAdd({ does: 'message', to, subject: `${table.label}: {record}`, text: say('{change}') })}
      >
        {say('+ Send a message')}
      </Button>
    </div>
  );
}
