import { type EntryState, isItemShown, showValue, visibleProblems } from '@fiche/core/entry';
import { isNumbered, type Problem } from '@fiche/core/fields';
import { type Item, isField, isSubform, itemKey, type PreparedField } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { FieldId, TableId } from '@fiche/core/tables';
import { clsx } from 'clsx';
import { lazy, memo, Suspense, useContext, useMemo } from 'react';
import { inputFor, UploadContext } from '../inputs/index.ts';
import { CardSection, RuledField, ruledCss, textCss } from '../parts/index.ts';
import { AskedHere } from './AskedHere.tsx';
import entryFieldsCss from './entryFields.module.css';
import { inputId, isFilledByOthers, PlaceContext } from './focus.ts';
import { inputHandlers } from './inputHandlers.ts';
import { filledView } from './provenanceText.ts';
import { ReferenceCard } from './ReferenceCard.tsx';
import type { Entry } from './useEntry.ts';
import { viewOf } from './viewOf.ts';

/** Lines have their own part of the page’s script: most public pages have none. */
export const Lines = lazy(() => import('./lines/Lines.tsx'));

interface EntryFieldsProps {
  readonly entry: Entry;
  /** In the form editor: which field or item is selected, and how to select one. */
  readonly selected?: string;
  onSelect?(item: string): void;
  /** One column, as on a phone. */
  readonly narrow?: boolean;
  /** Only this section, of a form that is filled in steps. */
  readonly step?: string | undefined;
  /** Fields whose value was given and is not changed here. */
  readonly locked?: ReadonlySet<FieldId>;
  /** Shows why a dropdown offers what it offers; nobody is told on a public page. */
  onWhy?(field: FieldId): void;
  /** Adds a new record for a dropdown, by its path, begun with what was typed in it. */
  onAdd?(path: string, text: string): void;
  /** Where the record of a reference card is, for those who may see it. */
  linkTo?(table: TableId, id: number): string;
}

/** The sections, fields, words and reference cards of a running form. What is not shown now is not there. */
export function EntryFields(props: EntryFieldsProps) {
  const { entry, selected, onSelect, narrow, step } = props;
  const { state } = entry;
  const problems = new Map<string, Problem>();
  for (const problem of visibleProblems(state)) if (!problems.has(problem.path)) problems.set(problem.path, problem);
  const { base, formVersion } = entry.runs;
  const anonymous = state.opening.account === null;
  const upload = useMemo(() => ({ base, formVersion, anonymous }), [base, formVersion, anonymous]);
  const sections = state.form.definition.sections.map((section) => {
    const items = section.items.filter((item) => isItemShown(state, section, item));
    if (items.length === 0 || (step !== undefined && section.id !== step)) return null;
    return (
      <CardSection key={section.id} label={section.label}>
        <div className={clsx(entryFieldsCss.grid, !narrow && entryFieldsCss[`of${section.columns}`])}>
          {items.map((item) => (
            <div
              key={itemKey(item)}
              className={clsx(
                !isField(item) && entryFieldsCss.across,
                !isField(item) && item.kind === 'card' && entryFieldsCss.half,
                selected === itemKey(item) && entryFieldsCss.selected,
              )}
              onFocus={() => onSelect?.(itemKey(item))}
              onMouseDown={onSelect && (() => onSelect(itemKey(item)))}
            >
              <ItemView {...props} item={item} section={section.label} problems={problems} />
            </div>
          ))}
        </div>
      </CardSection>
    );
  });
  return <UploadContext.Provider value={upload}>{sections}</UploadContext.Provider>;
}

/** One field of a running form by itself, for a page that arranges fields in its own way. */
export function OneField({ entry, id }: { readonly entry: Entry; readonly id: FieldId }) {
  const { state } = entry;
  const { base, formVersion } = entry.runs;
  const upload = useMemo(() => ({ base, formVersion, anonymous: false }), [base, formVersion]);
  const field = state.form.fields.get(id);
  if (!field) return null;
  const problem = visibleProblems(state).find((one) => one.path === id);
  return (
    <UploadContext.Provider value={upload}>
      <EntryField entry={entry} field={field} problem={problem} {...viewOf(state, field)} />
    </UploadContext.Provider>
  );
}

function ItemView({
  item,
  section,
  problems,
  ...props
}: EntryFieldsProps & { item: Item; section: string; problems: Map<string, Problem> }) {
  const { entry, onWhy, onAdd, linkTo, locked } = props;
  const { state } = entry;
  if (!isField(item)) {
    if (isSubform(item)) {
      const subform = state.form.subforms.get(item.id);
      return (
        subform && (
          <Suspense fallback={<p className={textCss.faded}>{say('Fetching {what}…', { what: subform.label })}</p>}>
            <Lines
              entry={entry}
              subform={subform}
              titled={subform.label !== section}
              onWhy={onWhy}
              onAdd={onAdd}
              narrow={props.narrow === true}
            />
          </Suspense>
        )
      );
    }
    if (item.kind === 'card') return <ReferenceCard state={state} link={item.of} linkTo={linkTo} />;
    return item.kind === 'heading' ? (
      <h3 className={entryFieldsCss.heading}>{item.text}</h3>
    ) : (
      <p className={entryFieldsCss.note}>{item.text}</p>
    );
  }
  const field = state.form.fields.get(item.field);
  if (!field) return null;
  return (
    <EntryField
      entry={entry}
      field={field}
      problem={problemShown(state, problems.get(field.id))}
      onWhy={onWhy}
      onAdd={onAdd}
      locked={locked?.has(field.id) === true && !state.fields[field.id]?.unparsed}
      {...viewOf(state, field)}
    />
  );
}

/** That a value was cleared says more than that one is required now. */
const problemShown = (state: EntryState, problem: Problem | undefined): Problem | undefined => {
  const notice = problem?.rule === 'required' ? state.fields[problem.path]?.notice : undefined;
  return problem && notice ? { ...problem, message: notice } : problem;
};

type EntryFieldProps = {
  entry: Entry;
  field: PreparedField;
  problem?: Problem & { readonly asks?: true };
  readonly locked?: boolean;
  onWhy?(field: FieldId): void;
  onAdd?(path: string, text: string): void;
} & ReturnType<typeof viewOf>;

const EntryField = memo(
  function EntryField({
    entry,
    field,
    problem,
    notice,
    origin,
    offer,
    several,
    dispute,
    lacking,
    locked,
    onWhy,
    onAdd,
    ...view
  }: EntryFieldProps) {
    const id = inputId(useContext(PlaceContext) + field.id);
    const Input = inputFor(field.field.type);
    const { dispatch, state } = entry;
    const said = notice && notice !== problem?.message ? notice : undefined;
    return (
      <RuledField
        id={id}
        label={field.label}
        required={view.required && !field.readOnly}
        readOnly={field.readOnly || locked === true}
        help={field.help}
        problem={problem?.message}
        asks={problem?.asks === true}
        notice={said}
        isFilled={isFilledByOthers(state.form, field.id)}
        filled={origin && filledView(state, field, origin, () => dispatch({ type: 'refilled', field: field.id }))}
        ask={
          <AskedHere
            state={state}
            field={field}
            offer={offer}
            several={several}
            dispute={dispute}
            lacking={lacking}
            dispatch={dispatch}
            onAdd={onAdd && (() => onAdd(field.id, ''))}
          />
        }
      >
        {field.readOnly || locked ? (
          <output className={ruledCss.shown} id={id} aria-labelledby={`${id}-label`}>
            {showValue(state, field.id) ||
              (isNumbered(field.field) ? <span className={textCss.faded}>{say('given on save')}</span> : '')}
          </output>
        ) : (
          <Input
            {...view}
            field={field}
            table={state.form.table.id}
            id={id}
            invalid={problem !== undefined}
            {...inputHandlers({ state, field, path: field.id, dispatch, onWhy, onAdd })}
          />
        )}
      </RuledField>
    );
  },
  (a, b) =>
    (Object.keys(b) as (keyof EntryFieldProps)[]).every(
      (key) =>
        key === 'entry' ||
        key === 'onWhy' ||
        key === 'onAdd' ||
        (key === 'problem' ? a.problem?.message === b.problem?.message : a[key] === b[key]),
    ) &&
    a.entry.dispatch === b.entry.dispatch &&
    !b.field.readOnly &&
    // What a dropdown says when it is empty hangs on the fields that narrow it.
    !b.choices,
);
