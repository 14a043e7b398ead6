import type { FindingView } from '@fiche/core/api';
import { type DefinedForm, type PreparedForm, type Subform, subformsOf } from '@fiche/core/forms';
import { Sentence, type Slot } from '../parts/index.ts';
import { removeItem, replaceItem } from './edit.ts';
import { ShownSentences } from './ShownSentences.tsx';
import { Findings, SlipPart } from './Slip.tsx';

interface Props {
  readonly definition: DefinedForm;
  readonly prepared: PreparedForm;
  readonly findings: readonly FindingView[];
  readonly selected: string;
  onChange(definition: DefinedForm, select?: string): void;
}

const ANY = 'any';

/** The sentences of a subform: whose lines, how they are entered, how many, when it shows. */
export function SubformSlip({ definition, prepared, findings, selected, onChange }: Props) {
  const subform = subformsOf(definition).find((one) => one.id === selected);
  if (!subform) return null;
  const table = prepared.tables.get(subform.table);
  const label = subform.label ?? table?.label ?? subform.id;
  const set = (change: Partial<Subform>): void =>
    onChange(replaceItem(definition, subform.id, { ...subform, ...change }));
  const slots: Record<'label' | 'as' | 'least' | 'most', Slot> = {
    label: {
      key: 'label',
      label: 'label of the subform',
      shown: label,
      pick: { kind: 'text', current: label },
      onSet: (text) => set({ label: text.trim() === '' || text.trim() === table?.label ? null : text.trim() }),
    },
    as: {
      key: 'as',
      label: 'how lines are entered',
      shown: subform.as,
      pick: {
        kind: 'options',
        current: subform.as,
        options: [
          { value: 'rows', label: 'rows', detail: 'dense, a cell each' },
          { value: 'cards', label: 'cards', detail: 'for lines with much to say' },
        ],
      },
      onSet: (as) => set({ as: as as Subform['as'] }),
    },
    least: numberSlot('least', 'least number of lines', subform.least, (least) => set({ least })),
    most: numberSlot('most', 'most lines', subform.most, (most) => set({ most })),
  };
  return (
    <>
      <header className="slip-head">
        <h2>{label}</h2> <span className="mono faded">{subform.id}</span>
      </header>
      <Findings findings={findings.filter((finding) => finding.path === subform.id)} />
      <SlipPart title="What it is" about="Saved together with the record, all or nothing; the link is set by itself.">
        <Sentence
          parts={[
            `The records of ${table?.label ?? subform.table} that belong to this one, called `,
            slots.label,
            ', entered as ',
            slots.as,
            ', with at least ',
            slots.least,
            ' and at most ',
            slots.most,
            ' lines.',
          ]}
        />
        <p className="slip-about">
          Calculations and rules of the form know them as <code>{subform.id}</code>: <code>count({subform.id})</code>,{' '}
          <code>sum({subform.id}.…)</code>.
        </p>
      </SlipPart>
      <SlipPart title="When it shows" letter="S" about="Lines of a hidden subform are not read, and not saved.">
        <ShownSentences
          prepared={prepared}
          except={[]}
          condition={subform.shownWhen}
          lead={`Show ${label} only when `}
          none={`${label} is always shown.`}
          addLabel="Show it only when…"
          onChange={(shownWhen) => set({ shownWhen })}
        />
      </SlipPart>
      <p className="acts slip-part">
        <button type="button" className="link" onClick={() => onChange(removeItem(definition, subform.id))}>
          Take {label} off the form
        </button>
      </p>
    </>
  );
}

function numberSlot(key: string, label: string, value: number | null, onSet: (value: number | null) => void): Slot {
  const none = key === 'least' ? 'no' : 'any number of';
  return {
    key,
    label,
    shown: value === null ? none : String(value),
    quiet: value === null,
    pick: {
      kind: 'options',
      current: value === null ? ANY : String(value),
      options: [
        { value: ANY, label: none },
        ...[1, 2, 3, 5, 10, 50].map((n) => ({ value: String(n), label: String(n) })),
      ],
      typed: (text) => (/^[1-9]\d{0,2}$/.test(text.trim()) ? [{ value: text.trim(), label: text.trim() }] : []),
    },
    onSet: (text) => onSet(text === ANY ? null : Number(text)),
  };
}
