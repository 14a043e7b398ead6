import { isIndexed } from '@fiche/core/fields';
import type { ImportPlan } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { findField, type TableDefinition } from '@fiche/core/tables';
import type { Phrase, Slot } from '../parts/index.ts';

const NO_KEY = say('nothing: every row is a new record');

/** What becomes of a row of the file: how it finds its record, and what is done with it then. */
export function rowWords(plan: ImportPlan, target: TableDefinition, onChange: (plan: ImportPlan) => void): Phrase {
  const keyable = plan.columns.flatMap((column) => {
    const field = column.to.kind === 'field' ? findField(target, column.to.field) : undefined;
    return field && isIndexed(field) ? [field] : [];
  });
  const key: Slot = {
    key: 'key',
    label: say('key'),
    side: 'choices',
    shown: plan.key.map((id) => findField(target, id)?.label ?? id).join(` ${say('and')} `) || NO_KEY,
    pick: {
      kind: 'options',
      options: [{ value: '', label: NO_KEY }, ...keyable.map((one) => ({ value: one.id, label: one.label }))],
      current: plan.key[0] ?? '',
    },
    onSet: (id) => onChange({ ...plan, key: id === '' ? [] : [id] }),
  };
  if (plan.key.length === 0) return [`${say('A row finds its record by')} `, key, '.'];
  const found = eitherSlot(
    'found',
    say('what becomes of a row whose record is there'),
    { change: say('the record is changed'), skip: say('the row is skipped') },
    plan.found,
    (next) => onChange({ ...plan, found: next }),
  );
  const missing = eitherSlot(
    'missing',
    say('what becomes of a row whose record is not there'),
    { add: say('a record is added'), skip: say('the row is skipped') },
    plan.missing,
    (next) => onChange({ ...plan, missing: next }),
  );
  return [
    `${say('A row finds its record by')} `,
    key,
    `${say('; where it finds one,')} `,
    found,
    `${say('; where not,')} `,
    missing,
    '.',
  ];
}

function eitherSlot<K extends string>(
  key: string,
  label: string,
  words: Readonly<Record<K, string>>,
  current: K,
  onSet: (value: K) => void,
): Slot {
  const options = Object.entries<string>(words).map(([value, text]) => ({ value, label: text }));
  return {
    key,
    label,
    shown: words[current],
    pick: { kind: 'options', options, current },
    onSet: (value) => onSet(value as K),
  };
}

const NO_FORM = say('by the rules of the table alone');

/** Through which form each row comes in, as if it were entered there. */
export const formWords = (
  plan: ImportPlan,
  forms: readonly { readonly id: string; readonly label: string }[],
  onChange: (plan: ImportPlan) => void,
): Phrase => {
  const form = forms.find((one) => one.id === plan.form);
  return [
    `${say('Each row is checked')} `,
    {
      key: 'form',
      label: say('form that checks each row'),
      shown: form ? say('as {label} would, and filled by it', { label: form.label }) : NO_FORM,
      pick: {
        kind: 'options',
        options: [
          { value: '', label: NO_FORM },
          ...forms.map((one) => ({
            value: one.id,
            label: say('as {label} would, and filled by it', { label: one.label }),
          })),
        ],
        current: plan.form ?? '',
      },
      onSet: (id) => onChange({ ...plan, form: id === '' ? null : id }),
    },
    '.',
  ];
};

/** What becomes of rows that a rule asks about. */
export const reasonWords = (plan: ImportPlan, onChange: (plan: ImportPlan) => void): Phrase => [
  `${say('A row that a rule asks about is')} `,
  {
    key: 'reason',
    label: say('what becomes of rows that a rule asks about'),
    shown: plan.reason ? say('accepted with the reason: {reason}', { reason: plan.reason }) : 'refused',
    pick: {
      kind: 'text',
      current: plan.reason ?? '',
      hint: say('A reason accepts all of them and goes into the history; empty refuses them.'),
    },
    onSet: (reason) => onChange({ ...plan, reason: reason.trim() || null }),
  },
  '.',
];
