import type { FindingView } from '@fiche/core/api';
import { type DefinedForm, isField, isSubform, itemKey, type PreparedForm } from '@fiche/core/forms';
import { linkedTable } from '@fiche/core/tables';
import { Sentence, type Slot } from '../parts/index.ts';
import { CardLayout } from '../tables/index.ts';
import { changeSection, itemOn, removeItem, removeSection, replaceItem } from './edit.ts';
import { ShownSentences } from './ShownSentences.tsx';
import { Findings, SlipPart } from './Slip.tsx';

interface Props {
  readonly definition: DefinedForm;
  readonly prepared: PreparedForm;
  readonly findings: readonly FindingView[];
  /** `§` and a section, or `#` and an item that is no field. */
  readonly selected: string;
  onChange(definition: DefinedForm, select?: string): void;
}

/** The sentences of a section: its heading, its columns, when it shows. */
export function SectionSlip({ definition, prepared, findings, selected, onChange }: Props) {
  const section = definition.sections.find((one) => `§${one.id}` === selected);
  if (!section) return null;
  const set = (change: Parameters<typeof changeSection>[2]): void =>
    onChange(changeSection(definition, section.id, change));
  const heading: Slot = {
    key: 'label',
    label: 'heading of the section',
    shown: section.label || 'no heading',
    quiet: section.label === '',
    pick: { kind: 'text', current: section.label },
    onSet: (label) => set({ label: label.trim() }),
  };
  const columns: Slot = {
    key: 'columns',
    label: 'columns of the section',
    shown: `${section.columns} ${section.columns === 1 ? 'column' : 'columns'}`,
    pick: {
      kind: 'options',
      current: String(section.columns),
      options: ['1', '2', '3', '4'].map((value) => ({ value, label: value === '1' ? '1 column' : `${value} columns` })),
    },
    onSet: (value) => set({ columns: Number(value) }),
  };
  return (
    <>
      <header className="slip-head">
        <h2>{section.label || 'Section'}</h2>
      </header>
      <Findings findings={findings.filter((finding) => finding.path === `#${section.id}`)} />
      <SlipPart title="What it is">
        <Sentence parts={['A section with ', heading, ', in ', columns, ' on a wide card.']} />
      </SlipPart>
      <SlipPart title="When it shows" letter="S" about="What is hidden is neither required nor checked.">
        <ShownSentences
          prepared={prepared}
          except={section.items.filter(isField).map((one) => one.field)}
          condition={section.shownWhen}
          lead="Show the section only when "
          none="The section is always shown."
          addLabel="Show it only when…"
          onChange={(shownWhen) => set({ shownWhen })}
        />
      </SlipPart>
      {definition.sections.length > 1 && (
        <p className="acts slip-part">
          <button type="button" className="link" onClick={() => onChange(removeSection(definition, section.id))}>
            Take the section away; what stands in it stays
          </button>
        </p>
      )}
    </>
  );
}

/** The sentences of a heading, a note or a reference card. */
export function WordsSlip({ definition, prepared, findings, selected, onChange }: Props) {
  const item = itemOn(definition, selected);
  if (!item || isField(item) || isSubform(item)) return null;
  const remove = (
    <p className="acts slip-part">
      <button type="button" className="link" onClick={() => onChange(removeItem(definition, selected))}>
        Take it off the form
      </button>
    </p>
  );
  const found = <Findings findings={findings.filter((finding) => finding.path === selected)} />;
  if (item.kind === 'card') {
    const link = prepared.fields.get(item.of);
    const table = prepared.tables.get(linkedTable(link?.field) ?? '');
    return (
      <>
        <header className="slip-head">
          <h2>Reference card</h2>
        </header>
        {found}
        <SlipPart title="What it is" about="Read-only and always current: no copy.">
          <p className="sentence">
            What is known of the record that this form’s <strong>{link?.label ?? item.of}</strong> points at.
          </p>
        </SlipPart>
        {table && (
          <SlipPart title={`What it shows of ${table.label}`} about="Laid out once, for every form that links there.">
            <CardLayout table={table} />
          </SlipPart>
        )}
        {remove}
      </>
    );
  }
  const text: Slot = {
    key: 'text',
    label: `words of the ${item.kind}`,
    shown: item.text,
    pick: { kind: 'text', current: item.text },
    onSet: (next) => next.trim() && onChange(replaceItem(definition, itemKey(item), { ...item, text: next.trim() })),
  };
  return (
    <>
      <header className="slip-head">
        <h2>{item.kind === 'heading' ? 'Heading' : 'Note'}</h2>
      </header>
      {found}
      <SlipPart title="What it says">
        <Sentence parts={[text]} />
      </SlipPart>
      {remove}
    </>
  );
}
