import { describeCondition, EVERYTHING, type Group } from '@fiche/core/conditions';
import { isIndexed } from '@fiche/core/fields';
import { namesOf, type PreparedField, type PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { type Narrowing, NOT_NARROWED } from '@fiche/core/narrowing';
import type { TableDefinition } from '@fiche/core/tables';
import { type Phrase, Sentence, type Slot, sentenceCss } from '../parts/index.ts';
import { aroundOf, ConditionSentences, narrowingSides } from '../sentences/index.ts';
import { useViews } from '../views/index.ts';
import { changeField, fieldOn } from './edit.ts';
import type { FieldSettingsProps } from './fieldSettingsProps.ts';

/** “Offer Berths whose Pontoon is this form’s Pontoon”: both sides named, each in its own colour, line and word. */
export function NarrowingSentences({ definition, prepared, field, onChange }: FieldSettingsProps) {
  const { source } = field;
  const choices = source && prepared.tables.get(source.table);
  if (!source || !choices) return null;
  const narrowing = fieldOn(definition, field.id)?.narrowing ?? NOT_NARROWED;
  const set = (change: Partial<Narrowing>): void => {
    const next = { ...narrowing, ...change };
    onChange(changeField(definition, field.id, { narrowing: { ...next, show: [...next.show] } }));
  };
  const others = [...prepared.fields.values()]
    .filter((one) => one.placed && one.id !== field.id)
    .map((one) => ({ ...one.field, label: one.label }));
  const isLevel = source.column !== undefined;
  const ancestors = isLevel ? levelsAbove(prepared, field) : [];
  const ofTable = field.field.narrowing;
  const names = namesOf({ tables: prepared.tables, table: prepared.table.id, choices: choices.id, sides: true });
  const offered = isLevel ? (choices.fields.find((one) => one.id === source.column)?.label ?? '') : choices.label;
  const only = eitherSlot({
    key: 'only',
    label: say('what happens when one choice is left'),
    is: narrowing.only,
    yes: say('is chosen by itself'),
    no: say('waits to be chosen'),
    onSet: (value) => set({ only: value }),
  });
  const adds = eitherSlot({
    key: 'adds',
    label: say('whether a new one can be added in place'),
    is: narrowing.adds === true,
    yes: say('may add a new one in place'),
    detail: say('who may add there; never on a public page'),
    no: say('has to choose another'),
    onSet: (value) => set({ adds: value }),
  });
  const tail: Phrase = isLevel
    ? []
    : [
        `${say('sorted by')} `,
        sortSlot(choices, narrowing, set),
        `${say(', with')} `,
        besideSlot(choices, narrowing, set),
        ` ${say('beside')}`,
      ];
  return (
    <>
      {ofTable && (
        <p className={sentenceCss.sentence}>
          {say('The table {label} narrows it everywhere: {ofTable}. Here it can be narrowed further.', {
            label: prepared.table.label,
            ofTable: describeCondition(ofTable, names),
          })}
        </p>
      )}
      {!isLevel && <OfferedView choices={choices} narrowing={narrowing} onSet={set} />}
      {ancestors.length > 0 && (
        <p className={sentenceCss.sentence}>
          {say('Every level above counts: {list}.', { list: ancestors.join(` ${say('and')} `) })}
        </p>
      )}
      <ConditionSentences
        sides={narrowingSides(prepared.tables, choices.id, others, aroundOf(prepared))}
        where={narrowing.where as Group}
        lead={[`${say('Offer {offered} whose', { offered })} `]}
        tail={tail}
        none={
          isLevel
            ? [say('Offer every {offered} of {label}.', { offered, label: choices.label })]
            : [
                `${say('Offer every {ofTable}record of {offered},', { ofTable: ofTable ? `${say('such')} ` : '', offered })} `,
                ...tail,
                '.',
              ]
        }
        addLabel={say('Narrow it by another field')}
        onChange={(where) => set({ where: where.of.length === 0 ? EVERYTHING : where })}
      />
      <Sentence parts={[`${say('When one choice is left, it')} `, only, '.']} />
      {!isLevel && <Sentence parts={[`${say('Who does not find it')} `, adds, '.']} />}
    </>
  );
}

const EVERY = 'every';

/** Which of its records a table offers at all: those of a shared view, where there is one. */
function OfferedView({
  choices,
  narrowing: { view = null },
  onSet,
}: {
  choices: TableDefinition;
  narrowing: Narrowing;
  onSet(change: Partial<Narrowing>): void;
}) {
  const { views } = useViews(choices.id);
  const shared = views?.filter((one) => one.shared) ?? [];
  if (shared.length === 0 && view === null) return null;
  const label = shared.find((one) => one.id === view)?.label;
  const slot: Slot = {
    key: 'view',
    label: say('view of {label} that says what is offered', { label: choices.label }),
    side: view === null ? undefined : 'choices',
    shown:
      view === null
        ? say('all records of {label}', { label: choices.label })
        : label === undefined && views
          ? say('a view that is not there any more')
          : say('the records of the view {label}', { label: label ?? '' }),
    quiet: view === null,
    pick: {
      kind: 'options',
      current: view === null ? EVERY : String(view),
      options: [
        { value: EVERY, label: say('all records of {label}', { label: choices.label }) },
        ...shared.map((one) => ({ value: String(one.id), label: one.label, detail: say('the records of this view') })),
      ],
    },
    onSet: (value) => onSet({ view: value === EVERY ? null : Number(value) }),
  };
  return <Sentence parts={[`${say('Offer out of')} `, slot, '.']} />;
}

/** The levels of an option list above a field, by their labels on the form. */
const levelsAbove = (prepared: PreparedForm, field: PreparedField): string[] =>
  field.narrowing.where.of.flatMap((one) =>
    one.kind === 'compare' && 'right' in one && one.right.kind === 'form'
      ? [prepared.fields.get(one.right.path)?.label ?? '']
      : [],
  );

const columnLabel = (choices: TableDefinition, id: string | null): string =>
  choices.fields.find((one) => one.id === id)?.label ?? 'title';

const sortSlot = (
  choices: TableDefinition,
  { sort }: Narrowing,
  onSet: (change: Pick<Narrowing, 'sort'>) => void,
): Slot => ({
  key: 'sort',
  label: say('column of {label} to sort by', { label: choices.label }),
  side: 'choices',
  shown: columnLabel(choices, sort),
  pick: {
    kind: 'options',
    current: sort ?? '',
    options: [
      { value: '', label: say('title'), detail: say('what names a record') },
      ...choices.fields.filter(isIndexed).map((one) => ({ value: one.id, label: one.label })),
    ],
  },
  onSet: (id) => onSet({ sort: id === '' ? null : id }),
});

/** The columns that a list shows beside each choice: at most four, the ones chosen last. */
const besideSlot = (
  choices: TableDefinition,
  { show }: Narrowing,
  onSet: (change: Pick<Narrowing, 'show'>) => void,
): Slot => ({
  key: 'show',
  label: say('columns shown beside each choice'),
  side: 'choices',
  shown: show.length === 0 ? say('nothing') : show.map((id) => columnLabel(choices, id)).join(', '),
  quiet: show.length === 0,
  pick: {
    kind: 'options',
    options: choices.fields.filter(isIndexed).map((one) => ({
      value: one.id,
      label: one.label,
      detail: show.includes(one.id) ? say('shown: remove it') : say('show it'),
    })),
  },
  onSet: (id) => onSet({ show: show.includes(id) ? show.filter((one) => one !== id) : [...show, id].slice(-4) }),
});

interface Either {
  readonly key: string;
  readonly label: string;
  readonly is: boolean;
  /** What the sentence says when it is so, and when it is not. */
  readonly yes: string;
  readonly no: string;
  readonly detail?: string;
  onSet(value: boolean): void;
}

/** A slot with two ways to go on; the second is the default, and reads as the rest of the sentence does. */
const eitherSlot = ({ key, label, is, yes, no, detail, onSet }: Either): Slot => ({
  key,
  label,
  shown: is ? yes : no,
  quiet: !is,
  pick: {
    kind: 'options',
    current: is ? 'yes' : 'no',
    options: [
      { value: 'yes', label: yes, detail },
      { value: 'no', label: no },
    ],
  },
  onSet: (value) => onSet(value === 'yes'),
});
