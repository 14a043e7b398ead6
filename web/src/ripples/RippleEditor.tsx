import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { eventTable, eventWords, prepareRipple } from '@fiche/core/ripples';
import {
  EVENT_KINDS,
  type EventKind,
  type Ripple,
  type RippleEffect,
  type TableDefinition,
  type Tables,
} from '@fiche/core/tables';
import DownIcon from '@mui/icons-material/ArrowDownward';
import UpIcon from '@mui/icons-material/ArrowUpward';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useState } from 'react';
import { useOffice } from '../client/index.ts';
import { CheckField, pickerCss, RemoveSentence, Sentence, type Slot, textCss } from '../parts/index.ts';
import { ConditionSentences, type Sides, sidesOf } from '../sentences/index.ts';
import { AddEffect, EffectSentences } from './EffectSentences.tsx';
import { MissedSavesOf } from './MissedSavesOf.tsx';
import { RippleTrial } from './RippleTrial.tsx';
import ripplesCss from './ripples.module.css';

interface RippleEditorProps {
  readonly table: TableDefinition;
  /** The ripple as it runs now; without it, `fresh` is one that is being made. */
  readonly saved?: Ripple;
  readonly fresh?: Ripple;
  onSet(ripple: Ripple): Promise<boolean>;
  onRemove(): void;
  readonly onMove: { up?(): void; down?(): void };
}

/** A ripple read and set as sentences. What is changed runs once it is saved. */
export function RippleEditor({ table, saved, fresh, onSet, onRemove, onMove }: RippleEditorProps) {
  const { tables } = useOffice();
  const [draft, setDraft] = useState<Ripple | undefined>(fresh);
  const ripple = draft ?? saved;
  if (!ripple) return null;
  const prepared = prepareRipple(ripple, table, tables);
  const lacking =
    ripple.on.length === 0
      ? say('Choose at least one kind of save.')
      : ripple.effects.length === 0
        ? say('Say what it does.')
        : 'problems' in prepared
          ? prepared.problems[0]?.message
          : undefined;
  const changed = draft !== undefined;
  const set = (more: Partial<Ripple>): void => setDraft({ ...ripple, ...more });
  const setEffect = (at: number, effect: RippleEffect | undefined): void =>
    set({ effects: ripple.effects.flatMap((one, place) => (place === at ? (effect ? [effect] : []) : [one])) });
  const keep = async (): Promise<void> => {
    if (await onSet(ripple)) setDraft(undefined);
  };
  return (
    <section className={ripplesCss.ripple} aria-label={say('Ripple {label}', { label: ripple.label })}>
      <RippleHead
        {...{ ripple, onRemove, onMove }}
        onLabel={(label) => set({ label })}
        {...(saved && !changed ? { onPause: () => void onSet({ ...ripple, paused: !ripple.paused }) } : {})}
      />
      <Sentence
        parts={[
          `${say('When a record of {label} is', { label: table.label })} `,
          kindsSlot(ripple, (on) => set({ on: [...on] })),
          ...fieldsParts(ripple, table, (fields) => set({ fields: [...fields] })),
          ripple.when.of.length > 0 ? ',' : ':',
        ]}
      />
      <ConditionSentences
        sides={eventSides(table, tables)}
        where={ripple.when}
        lead={[`${say('and')} `]}
        stop=","
        addLabel={say('Only if…')}
        onChange={(when) => set({ when })}
      />
      {ripple.effects.map((effect, at) => (
        <EffectSentences
          // biome-ignore lint/suspicious/noArrayIndexKey: an effect has no name of its own, and its place is what it is known by.
          key={at}
          {...{ effect, table, at }}
          now={civilNow()}
          onChange={(next) => setEffect(at, next)}
          onRemove={() => setEffect(at, undefined)}
        />
      ))}
      <AddEffect
        table={table}
        first={ripple.effects.length === 0}
        onAdd={(effect) => set({ effects: [...ripple.effects, effect] })}
      />
      {changed && (
        <KeepBar
          lacking={lacking}
          runs={saved !== undefined}
          onKeep={() => void keep()}
          onDiscard={() => (saved ? setDraft(undefined) : onRemove())}
        />
      )}
      <div className={ripplesCss.checks}>
        <RippleTrial key={JSON.stringify(ripple)} table={table} ripple={ripple} disabled={lacking !== undefined} />
        {saved && !changed && <MissedSavesOf table={table} ripple={ripple} />}
      </div>
    </section>
  );
}

interface RippleHeadProps extends Pick<RippleEditorProps, 'onRemove' | 'onMove'> {
  readonly ripple: Ripple;
  onLabel(label: string): void;
  /** Pauses or resumes it; not while it is being changed. */
  onPause?(): void;
}

/** What a ripple is called, and its place among the others. */
const RippleHead = ({ ripple, onLabel, onPause, onMove, onRemove }: RippleHeadProps) => (
  <div className={ripplesCss.head}>
    <Sentence parts={[labelSlot(ripple, onLabel)]} />
    {ripple.paused && <span className={textCss.notice}>{say('Paused: it does not run.')}</span>}
    <span className={ripplesCss.acts}>
      {onMove.up && (
        <IconButton aria-label={say('Run {label} earlier', { label: ripple.label })} onClick={onMove.up}>
          <UpIcon fontSize="small" />
        </IconButton>
      )}
      {onMove.down && (
        <IconButton aria-label={say('Run {label} later', { label: ripple.label })} onClick={onMove.down}>
          <DownIcon fontSize="small" />
        </IconButton>
      )}
      {onPause && (
        <Button variant="text" onClick={onPause}>
          {ripple.paused ? say('Resume') : say('Pause')}
        </Button>
      )}
      <RemoveSentence what={say('the ripple {label}', { label: ripple.label })} onRemove={onRemove} />
    </span>
  </div>
);

interface KeepBarProps {
  /** What has to be said before it can run; undefined where it can. */
  readonly lacking: string | undefined;
  /** Whether an earlier form of it runs already. */
  readonly runs: boolean;
  onKeep(): void;
  onDiscard(): void;
}

/** Keeps what was changed of a ripple, or throws it away. */
const KeepBar = ({ lacking, runs, onKeep, onDiscard }: KeepBarProps) => (
  <p className={ripplesCss.save}>
    <Button disabled={lacking !== undefined} onClick={onKeep}>
      {runs ? say('Save the ripple') : say('Switch it on')}
    </Button>
    <Button variant="text" onClick={onDiscard}>
      {say('Discard')}
    </Button>
    <span className={lacking === undefined ? textCss.faded : textCss.problem} role="status">
      {lacking ?? (runs ? say('Changed, not saved yet: it runs as before.') : say('It runs from the next save on.'))}
    </span>
  </p>
);

/** What the conditions of a ripple compare: the fields of the record, after the save and before it. */
function eventSides(table: TableDefinition, tables: Tables): Sides {
  const sides = sidesOf(tables, eventTable(table).fields, 'form', say('of this record'));
  return { tables, left: sides, right: sides, word: '', leftKind: 'form' };
}

const labelSlot = (ripple: Ripple, onSet: (label: string) => void): Slot => ({
  key: 'label',
  label: say('name of the ripple'),
  shown: ripple.label,
  pick: { kind: 'text', current: ripple.label },
  onSet: (label) => label.trim() !== '' && onSet(label.trim()),
});

/** The slot of the kinds of saves: several can be chosen. */
const kindsSlot = ({ on }: Ripple, onSet: (on: readonly EventKind[]) => void): Slot => ({
  key: 'on',
  label: say('kinds of saves'),
  shown: on.length === 0 ? '…' : eventWords(on),
  pick: {
    kind: 'editor',
    edit: () => (
      <Several
        options={EVENT_KINDS.map((kind) => ({ value: kind, label: kind }))}
        chosen={on}
        onSet={(next) => onSet(EVENT_KINDS.filter((kind) => next.includes(kind)))}
      />
    ),
  },
  onSet: () => undefined,
});

/** Of a change: whether any field counts, or some. */
const fieldsParts = ({ on, fields }: Ripple, table: TableDefinition, onSet: (fields: readonly string[]) => void) =>
  on.includes('changed')
    ? [
        ` ${say('(a change of')} `,
        {
          key: 'fields',
          label: say('fields whose change counts'),
          shown:
            fields.length === 0
              ? say('any field')
              : fields.map((id) => table.fields.find((one) => one.id === id)?.label ?? id).join(` ${say('or')} `),
          pick: {
            kind: 'editor',
            edit: () => (
              <Several
                options={table.fields.map((field) => ({ value: field.id, label: field.label }))}
                chosen={fields}
                hint={say('Without a choice every field counts.')}
                onSet={onSet}
              />
            ),
          },
          onSet: () => undefined,
        } satisfies Slot,
        ` ${say('counts)')}`,
      ]
    : [];

interface SeveralProps {
  readonly options: readonly { readonly value: string; readonly label: string }[];
  readonly chosen: readonly string[];
  readonly hint?: string;
  onSet(chosen: readonly string[]): void;
}

/** Some of a short list, each with its tick. */
function Several({ options, chosen, hint, onSet }: SeveralProps) {
  return (
    <div className={pickerCss.picker}>
      <div className={ripplesCss.several}>
        {options.map(({ value, label }) => (
          <CheckField
            key={value}
            label={label}
            checked={chosen.includes(value)}
            onChange={(checked) => onSet(checked ? [...chosen, value] : chosen.filter((one) => one !== value))}
          />
        ))}
      </div>
      {hint && <p className={pickerCss.hint}>{hint}</p>}
    </div>
  );
}
