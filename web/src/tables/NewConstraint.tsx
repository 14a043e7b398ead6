import { isIndexed } from '@fiche/core/fields';
import { say, sayCount } from '@fiche/core/languages';
import {
  type Constraint,
  constraintKinds,
  type FieldDefinition,
  type SentencePart,
  type TableDefinition,
  typeOf,
} from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { type Phrase, Sentence, type Slot, textCss, useNotify } from '../parts/index.ts';
import { type ConstraintDraft, fieldsFor, openingOf, readDraft } from './constraintDraft.ts';
import rulesCss from './rules.module.css';
import { type BrokenRecord, Trial } from './Trial.tsx';

/** A new rule between records, written as its kind’s sentence; tried on what is there before it holds. */
export function NewConstraint({
  table,
  onAdd,
}: {
  table: TableDefinition;
  onAdd(constraint: Constraint): Promise<boolean>;
}) {
  const { cabinet } = useOffice();
  const notify = useNotify();
  const [draft, setDraft] = useState<ConstraintDraft>({ kind: 'unique', slots: {}, message: '' });
  const [broken, setBroken] = useState<{ breaks: number; examples: readonly BrokenRecord[] }>();
  if (table.fields.filter(isIndexed).length < 2) return null;

  const { constraint, problem } = readDraft(table, draft);
  const change = (changed: Partial<ConstraintDraft>): void => {
    setBroken(undefined);
    setDraft((before) => ({ ...before, ...changed }));
  };
  const add = async (): Promise<void> => {
    if (!constraint) return;
    try {
      const found = await send<typeof broken & object>('POST', `/api/tables/${table.id}/trial`, {
        kind: 'constraint',
        constraint,
      });
      setBroken(found.breaks > 0 ? found : undefined);
      if (found.breaks === 0 && (await onAdd(constraint))) change({ slots: {}, message: '' });
    } catch (error) {
      notify((error as Error).message);
    }
  };
  return (
    <div className={clsx(rulesCss.row, rulesCss.newRule)} role="group" aria-label={say('New rule between records')}>
      <Sentence parts={sentenceOf(table, draft, change)} />
      {problem && (
        <p className={textCss.problem} role="alert">
          {problem}
        </p>
      )}
      {broken && (
        <Trial
          heading={say('{breaks} this already. Correct them first.', {
            breaks: sayCount(broken.breaks, '{count} record breaks', '{count} records break'),
          })}
          path={`/${cabinet.id}/tables/${table.id}`}
          breaks={broken.breaks}
          examples={broken.examples}
        >
          <Button variant="text" onClick={() => void add()}>
            {say('Check again')}
          </Button>
        </Trial>
      )}
      <Button sx={{ mt: 1 }} disabled={!constraint} onClick={() => void add()}>
        {say('Add rule')}
      </Button>
    </div>
  );
}

/** The draft as a sentence whose slots set it. */
function sentenceOf(
  table: TableDefinition,
  { kind, slots, message }: ConstraintDraft,
  change: (changed: Partial<ConstraintDraft>) => void,
): Phrase {
  const { opening, rest } = openingOf(kind);
  const set = (member: string, held: string | readonly string[]): void =>
    change({ slots: { ...slots, [member]: held } });
  return [
    {
      key: 'kind',
      label: say('kind of rule'),
      shown: opening,
      pick: {
        kind: 'options',
        options: constraintKinds.map((one) => ({ value: one.kind, label: say(one.label), detail: say(one.detail) })),
        current: kind,
      },
      onSet: (value) => change({ kind: value as Constraint['kind'] }),
    },
    ' ',
    ...rest.flatMap((part) => slotsOf(table, part, slots, set)),
    `. ${say('Message:')} `,
    {
      key: 'message',
      label: say('message of the rule'),
      shown: message === '' ? say('what is wrong and what to do') : `“${message}”`,
      pick: { kind: 'text', current: message },
      onSet: (text) => change({ message: text }),
    },
  ];
}

/** A part of a kind’s sentence: its words, or the slots that set one member, one more than there are fields. */
function slotsOf(
  table: TableDefinition,
  part: SentencePart,
  slots: ConstraintDraft['slots'],
  set: (member: string, held: string | readonly string[]) => void,
): Phrase {
  if (typeof part === 'string') return [say(part)];
  const held = slots[part.sets];
  if (part.takes === 'count')
    return [
      {
        key: part.sets,
        label: say(part.label),
        shown: typeof held === 'string' && held !== '' ? held : say('how many'),
        pick: { kind: 'text', current: String(held ?? ''), hint: say('A whole number. Enter applies it.') },
        onSet: (text) => set(part.sets, text),
      },
    ];
  const among = fieldsFor(table, part);
  if (part.takes === 'field')
    return [
      fieldSlot(
        part.sets,
        say(part.label),
        String(held ?? ''),
        among,
        (id) => set(part.sets, id),
        part.nothing && say(part.nothing),
      ),
    ];
  const fields = Array.isArray(held) ? (held as readonly string[]) : [];
  return [...fields, ''].slice(0, 6).flatMap((id, n): Phrase => {
    const label = id === '' ? say('a further {label}', { label: say(part.label) }) : say(part.label);
    const slot = fieldSlot(
      `${part.sets}${n}`,
      label,
      id,
      among,
      (chosen) =>
        set(part.sets, [
          ...new Set([...fields.slice(0, n), ...(chosen === '' ? [] : [chosen]), ...fields.slice(n + 1)]),
        ]),
      n === 0 ? undefined : say('another field'),
    );
    return n === 0 ? [slot] : [', ', slot];
  });
}

/** A slot that takes a field, by its label; `nothing` is what it says while none is chosen, where it may stay so. */
function fieldSlot(
  key: string,
  label: string,
  current: string,
  among: readonly FieldDefinition[],
  onSet: (id: string) => void,
  nothing?: string,
): Slot {
  const labelOf = (id: string): string => among.find((field) => field.id === id)?.label ?? '…';
  const none = current === '' ? [] : [{ value: '', label: say('Leave it out') }];
  return {
    key,
    label,
    side: 'form',
    quiet: current === '' && nothing !== undefined,
    shown: current === '' ? (nothing ?? say('choose a field')) : labelOf(current),
    pick: {
      kind: 'options',
      options: [...none, ...among.map((one) => ({ value: one.id, label: one.label, detail: say(typeOf(one).word) }))],
      current,
    },
    onSet,
  };
}
