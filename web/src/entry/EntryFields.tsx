import { type EntryState, isDirty, showValue, visibleProblems } from '@fiche/core/entry';
import type { Problem } from '@fiche/core/fields';
import type { PreparedField } from '@fiche/core/forms';
import { Fragment, memo } from 'react';
import { inputFor } from '../inputs/index.ts';
import { CardSection, RuledField } from '../parts/index.ts';
import type { Entry } from './useEntry.ts';

/** The id of a field's input on the page. */
export const inputId = (field: string): string => `f-${field}`;

/** Puts the cursor into a field. */
export function focusField(field: string): void {
  const input = document.getElementById(inputId(field));
  const target = input?.matches('input, textarea') ? input : input?.querySelector<HTMLElement>('input');
  target?.focus();
  target?.scrollIntoView({ block: 'nearest' });
}

export interface EntryFieldsProps {
  readonly entry: Entry;
  /** In the Studio: which field is selected, and how to select one. */
  readonly selected?: string;
  onSelect?(field: string): void;
  /** One column, as on a phone. */
  readonly narrow?: boolean;
}

/** The sections and fields of a running form. */
export function EntryFields({ entry, selected, onSelect, narrow }: EntryFieldsProps) {
  const { state } = entry;
  const problems = new Map<string, Problem>();
  for (const problem of visibleProblems(state)) if (!problems.has(problem.path)) problems.set(problem.path, problem);
  return state.form.definition.sections.map((section) => {
    const fields = section.fields.flatMap((one) => state.form.fields.get(one.field) ?? []);
    if (fields.length === 0) return <Fragment key={section.id} />;
    return (
      <CardSection key={section.id} label={section.label}>
        <div className={`fields-grid of-${narrow ? 1 : section.columns}`}>
          {fields.map((field) => (
            <div
              key={field.id}
              className={selected === field.id ? 'selected-field' : undefined}
              onFocus={() => onSelect?.(field.id)}
            >
              <EntryField
                entry={entry}
                field={field}
                problem={problemShown(state, problems.get(field.id))}
                {...viewOf(state, field)}
              />
            </div>
          ))}
        </div>
      </CardSection>
    );
  });
}

/** That a value was cleared says more than that one is required now. */
const problemShown = (state: EntryState, problem: Problem | undefined): string | undefined =>
  problem?.rule === 'required' ? (state.notices[problem.path] ?? problem.message) : problem?.message;

const viewOf = (state: EntryState, { id }: PreparedField) => ({
  value: state.values[id] ?? null,
  unread: state.unread[id]?.text,
  linked: state.linked[id],
  choices: state.choices[id],
  waiting: `choices:${id}` in state.waiting,
  notice: state.notices[id] ?? state.missed[id]?.message,
  filledBy:
    state.origins[id] && state.origins[id].value === (state.values[id] ?? null)
      ? state.form.fields.get(state.origins[id].by)?.label
      : undefined,
});

type EntryFieldProps = { entry: Entry; field: PreparedField; problem?: string } & ReturnType<typeof viewOf>;

const EntryField = memo(
  function EntryField({ entry, field, problem, notice, filledBy, ...view }: EntryFieldProps) {
    const id = inputId(field.id);
    const Input = inputFor(field.field.type);
    const { dispatch } = entry;
    const said = notice && notice !== problem ? notice : undefined;
    return (
      <RuledField
        id={id}
        label={field.label}
        required={field.required && !field.readOnly}
        readOnly={field.readOnly}
        help={field.help}
        problem={problem}
        notice={said}
        filledBy={filledBy}
      >
        {field.readOnly ? (
          <output className="shown" id={id} aria-labelledby={`${id}-label`}>
            {showValue(entry.state, field.id) ||
              (field.field.type === 'sequence' ? <span className="faded">given on save</span> : '')}
          </output>
        ) : (
          <Input
            {...view}
            field={field}
            id={id}
            invalid={problem !== undefined}
            onTyped={(text) => dispatch({ type: 'typed', field: field.id, text })}
            onLeft={() => dispatch({ type: 'left', field: field.id })}
            onChanged={(value, linked) => dispatch({ type: 'changed', field: field.id, value, linked })}
            onOpened={(search) => dispatch({ type: 'opened', field: field.id, search })}
            onUnmatched={(text) => dispatch({ type: 'unmatched', field: field.id, text })}
          />
        )}
      </RuledField>
    );
  },
  (a, b) =>
    a.field === b.field &&
    a.value === b.value &&
    a.unread === b.unread &&
    a.linked === b.linked &&
    a.choices === b.choices &&
    a.waiting === b.waiting &&
    a.notice === b.notice &&
    a.filledBy === b.filledBy &&
    a.problem === b.problem &&
    a.entry.dispatch === b.entry.dispatch &&
    !b.field.readOnly,
);

/** What stands against saving, each a jump to its field; shown once Save was pressed. */
export function ProblemList({ entry }: { entry: Entry }) {
  const problems = visibleProblems(entry.state).filter((problem) => entry.state.touched[problem.path]);
  const pressed =
    entry.state.form.fields.size > 0 && [...entry.state.form.fields.keys()].every((id) => entry.state.touched[id]);
  if (!pressed || problems.length === 0) return null;
  return (
    <section className="problem-list" aria-label="What to mend">
      <h2>{problems.length === 1 ? 'One thing to mend' : `${problems.length} things to mend`}</h2>
      <ul>
        {problems.map((problem) => (
          <li key={`${problem.path} ${problem.rule}`}>
            <button type="button" className="link" onClick={() => focusField(problem.path)}>
              {entry.state.form.fields.get(problem.path)?.label ?? problem.path}
            </button>
            : {problem.message}
          </li>
        ))}
      </ul>
    </section>
  );
}

export const hasUnsavedWork = (entry: Entry): boolean => isDirty(entry.state);
