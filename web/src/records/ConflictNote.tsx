import { type EntryState, showValue } from '@fiche/core/entry';
import { typeOf } from '@fiche/core/tables';
import type { Conflict } from '../entry/index.ts';

/** Somebody else saved the record while it was open: both values of each field that differs, and who wrote the other. */
export function ConflictNote({
  conflict,
  state,
  onTheirs,
}: {
  conflict: Conflict;
  state: EntryState;
  onTheirs(): void;
}) {
  const { current, detail } = conflict;
  const differing = [...state.form.fields.values()].filter(
    (field) => (state.values[field.id] ?? null) !== (current.values[field.id] ?? null),
  );
  const theirs = (id: string): string => {
    const field = state.form.fields.get(id)?.field;
    const value = current.values[id] ?? null;
    if (!field || value === null) return 'blank';
    return field.type === 'link' ? (current.linked[id]?.title ?? '') : typeOf(field).format(value, field.settings);
  };
  return (
    <section className="problem-list" role="alert">
      <h2>{detail}</h2>
      <ul>
        {differing.map((field) => (
          <li key={field.id}>
            {field.label}: you have <strong>{showValue(state, field.id) || 'blank'}</strong>, {current.stamp.changedBy}{' '}
            saved <strong>{theirs(field.id)}</strong>
          </li>
        ))}
      </ul>
      <button type="button" className="link" onClick={onTheirs}>
        Take what {current.stamp.changedBy} saved, and enter mine again
      </button>
    </section>
  );
}
