import type { FindingView } from '@fiche/core/api';
import type { Value } from '@fiche/core/fields';
import type { DefinedForm, PreparedField, PreparedForm } from '@fiche/core/forms';
import type { ReactNode } from 'react';
import { Sentence } from '../parts/index.ts';
import { changeField, fieldOn, removeItem } from './edit.ts';
import { canFill, FillSentences } from './FillSentences.tsx';
import { NarrowingSentences } from './NarrowingSentences.tsx';
import { RuleSentences } from './RuleSentences.tsx';
import { ShownSentences } from './ShownSentences.tsx';
import { whatItIs } from './whatItIs.tsx';

/** What stands on the live card now. */
export interface LiveValues {
  readonly now: string;
  valueAt(path: string): Value;
}

export interface SlipProps {
  /** The form’s id. */
  readonly id: string;
  readonly definition: DefinedForm;
  readonly prepared: PreparedForm;
  readonly findings: readonly FindingView[];
  readonly field: PreparedField;
  readonly live?: LiveValues;
  onChange(definition: DefinedForm, select?: string): void;
}

/** The selected field's sentences: what it is, where its choices come from, what it fills, when it shows, what must hold. */
export function Slip(props: SlipProps) {
  const { definition, prepared, field, findings, onChange } = props;
  const one = fieldOn(definition, field.id);
  const placed = [...prepared.fields.values()].filter((other) => other.placed);
  if (!one) return null;
  const set = (change: Parameters<typeof changeField>[2]): void => onChange(changeField(definition, field.id, change));
  return (
    <>
      <header className="slip-head">
        <h2>{field.label}</h2> <span className="mono faded">{field.id}</span>
        <span className="faded end">
          {placed.indexOf(field) + 1} of {placed.length}
        </span>
      </header>
      <Findings findings={findings.filter((finding) => finding.path === field.id)} />
      <SlipPart title="What it is">
        <Sentence parts={whatItIs(props, one, set)} />
      </SlipPart>
      {field.source && (
        <SlipPart
          title="Where its choices come from"
          letter="N"
          about="Only these are offered, and only these are taken."
        >
          <NarrowingSentences {...props} />
        </SlipPart>
      )}
      {canFill(field) && (
        <SlipPart
          title="What it fills"
          letter="F"
          about="Copied once, true on the day; a reference card is always current."
        >
          <FillSentences {...props} />
        </SlipPart>
      )}
      <SlipPart title="When it shows" letter="S" about="What is hidden is neither required nor checked.">
        <ShownSentences
          prepared={prepared}
          except={[field.id]}
          condition={one.shownWhen}
          lead={`Show ${field.label} only when `}
          none={`${field.label} is always shown.`}
          addLabel="Show it only when…"
          onChange={(shownWhen) => set({ shownWhen })}
        />
        {one.shownWhen && (
          <Sentence
            parts={[
              'While hidden it ',
              {
                key: 'keep',
                label: 'what becomes of a hidden value',
                shown: one.keepHidden ? 'keeps its value' : 'is saved as blank',
                pick: {
                  kind: 'options',
                  current: one.keepHidden ? 'keep' : 'blank',
                  options: [
                    { value: 'blank', label: 'is saved as blank' },
                    { value: 'keep', label: 'keeps its value' },
                  ],
                },
                onSet: (value) => set({ keepHidden: value === 'keep' }),
              },
              '.',
            ]}
          />
        )}
      </SlipPart>
      <SlipPart title="What must hold" letter="M" about="Checked while typing, and again by the server.">
        {!field.readOnly && !field.required && (
          <ShownSentences
            prepared={prepared}
            except={[]}
            condition={one.requiredWhen}
            lead={`${field.label} is required when `}
            none=""
            addLabel="Require it only when…"
            onChange={(requiredWhen) => set({ requiredWhen })}
          />
        )}
        <RuleSentences {...props} />
      </SlipPart>
      <p className="acts slip-part">
        <button type="button" className="link" onClick={() => onChange(removeItem(definition, field.id))}>
          Take {field.label} off the form
        </button>
      </p>
    </>
  );
}

/** What the proof finds here. */
export function Findings({ findings }: { findings: readonly FindingView[] }) {
  return findings.map((finding) => (
    <p key={finding.message} className={`finding ${finding.weight}`}>
      <span aria-hidden="true">{finding.weight === 'must' ? '▲ ' : '● '}</span>
      <span className="visually-hidden">{finding.weight === 'must' ? 'Must be mended: ' : 'Worth a look: '}</span>
      {finding.message} <small className="finding-why">{finding.why}</small>
    </p>
  ));
}

export function SlipPart({
  title,
  letter,
  about,
  children,
}: {
  title: string;
  letter?: string;
  about?: string;
  children: ReactNode;
}) {
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
      {about && <p className="slip-about">{about}</p>}
      {children}
    </section>
  );
}
