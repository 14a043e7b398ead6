import type { Problem } from '@fiche/core/fields';
import type { FormDefinition, PreparedField, PreparedForm } from '@fiche/core/forms';
import type { ReactNode } from 'react';
import { Sentence, type Slot } from '../parts/index.ts';
import { changeField, fieldOn } from './edit.ts';
import { FillSentences } from './FillSentences.tsx';
import { NarrowingSentences } from './NarrowingSentences.tsx';
import { RuleSentences } from './RuleSentences.tsx';

export interface SlipProps {
  readonly definition: FormDefinition;
  readonly prepared: PreparedForm;
  readonly problems: readonly Problem[];
  readonly field: PreparedField;
  onChange(definition: FormDefinition): void;
}

/** The selected field's sentences: what it is, where its choices come from, what it fills, what must hold. */
export function Slip(props: SlipProps) {
  const { definition, prepared, field, problems, onChange } = props;
  const one = fieldOn(definition, field.id);
  const place = [...prepared.fields.keys()].indexOf(field.id) + 1;
  if (!one) return null;
  const set = (change: Parameters<typeof changeField>[2]): void => onChange(changeField(definition, field.id, change));
  const found = problems.filter((problem) => problem.path === field.id);
  return (
    <>
      <header className="slip-head">
        <h2>{field.label}</h2> <span className="mono faded">{field.id}</span>
        <span className="faded end">
          {place} of {prepared.fields.size}
        </span>
      </header>
      {found.map((problem) => (
        <p key={problem.message} className="finding must">
          <span aria-hidden="true">▲ </span>
          {problem.message}
        </p>
      ))}
      <SlipPart title="What it is">
        <Sentence parts={whatItIs(field, one.label, one.help, set)} />
      </SlipPart>
      {field.source && (
        <SlipPart title="Where its choices come from" letter="N">
          <NarrowingSentences {...props} />
        </SlipPart>
      )}
      {!field.readOnly && (
        <SlipPart title="What it fills" letter="F">
          <FillSentences {...props} />
        </SlipPart>
      )}
      <SlipPart title="What must hold" letter="M">
        <RuleSentences {...props} />
      </SlipPart>
    </>
  );
}

export function SlipPart({ title, letter, children }: { title: string; letter?: string; children: ReactNode }) {
  return (
    <section className="slip-part">
      <h3>
        {letter && (
          <span className={`letter ${letter}`} aria-hidden="true">
            {letter}
          </span>
        )}
        {title}
      </h3>
      {children}
    </section>
  );
}

function whatItIs(
  field: PreparedField,
  label: string | null,
  help: string | null,
  set: (change: Parameters<typeof changeField>[2]) => void,
): (string | Slot)[] {
  const tableRequires = field.field.required;
  const required: Slot = {
    key: 'required',
    label: 'whether it is required',
    shown: field.required ? 'required' : 'not required',
    pick: {
      kind: 'options',
      current: field.required ? 'yes' : 'no',
      options: tableRequires
        ? [{ value: 'yes', label: 'required', detail: 'by the table' }]
        : [
            { value: 'yes', label: 'required' },
            { value: 'no', label: 'not required' },
          ],
    },
    onSet: (value) => set({ required: value === 'yes' }),
  };
  const readOnly: Slot = {
    key: 'readOnly',
    label: 'whether it can be written here',
    shown: field.readOnly ? 'only shown' : 'filled in here',
    pick: {
      kind: 'options',
      current: field.readOnly ? 'yes' : 'no',
      options: [
        { value: 'no', label: 'filled in here' },
        { value: 'yes', label: 'only shown', detail: 'nobody types here' },
      ],
    },
    onSet: (value) => set({ readOnly: value === 'yes' }),
  };
  const labelled: Slot = {
    key: 'label',
    label: 'label on this form',
    shown: field.label,
    pick: {
      kind: 'text',
      current: label ?? field.field.label,
      hint: `Empty takes the table’s label, ${field.field.label}.`,
    },
    onSet: (text) => set({ label: text.trim() === '' || text.trim() === field.field.label ? null : text.trim() }),
  };
  const helped: Slot = {
    key: 'help',
    label: 'help text',
    shown: field.help || 'no help text',
    pick: { kind: 'text', current: help ?? field.field.help },
    onSet: (text) => set({ help: text.trim() === field.field.help ? null : text.trim() }),
  };
  const kind = field.source ? 'A dropdown' : 'A field';
  if (field.field.type === 'sequence') return [`A number given on save, labelled `, labelled, ', with ', helped, '.'];
  return [`${kind}, `, readOnly, ', ', required, ', labelled ', labelled, ', with ', helped, '.'];
}
