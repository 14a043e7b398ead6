import type { EntryState } from '@fiche/core/entry';
import { isBlank } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { cardLines, linkedTable, readCardLine, type TableId } from '@fiche/core/tables';
import { textCss } from '../parts/index.ts';
import referenceCss from './reference.module.css';

interface Props {
  readonly state: EntryState;
  /** The link field whose record is shown. */
  readonly link: string;
  linkTo?(table: TableId, id: number): string;
}

/** Read-only facts of a linked record, as it is now: no copy. Laid out once, with the table it describes. */
export function ReferenceCard({ state, link, linkTo }: Props) {
  const field = state.form.fields.get(link);
  const table = state.form.tables.get(linkedTable(field?.field) ?? '');
  const value = state.values[link] ?? null;
  if (!field || !table || state.hidden[link]) return null;
  const linked = state.linked[link];
  const lines = cardLines(state.form.tables, table);
  const known = linked && field.factPaths.every((path) => path in linked.facts);
  return (
    <aside className={referenceCss.reference} aria-label={say('{field}, reference card', { field: field.label })}>
      <header>
        <span className={textCss.faded}>{field.label}</span>
        {!isBlank(value) && <strong>{linked?.title ?? '…'}</strong>}
        {/* In a page of its own: what is being entered here stays. */}
        {!isBlank(value) && linkTo && (
          <a className={referenceCss.end} href={linkTo(table.id, Number(value))} target="_blank" rel="noreferrer">
            {say('Open')}
            <span className={textCss.visuallyHidden}>
              {' '}
              {say('{title} in a new tab', { title: linked?.title ?? '' })}
            </span>
          </a>
        )}
      </header>
      {isBlank(value) ? (
        <p className={textCss.faded}>
          {say('Shows what is known as soon as a {field} is chosen.', { field: field.label })}
        </p>
      ) : lines.length === 0 ? (
        <p className={textCss.faded}>
          {say('The table {table} has no reference card laid out yet.', { table: table.label })}
        </p>
      ) : !known ? (
        <p className={textCss.faded}>{say('Fetching…')}</p>
      ) : (
        <dl>
          {lines.map((line) => (
            <div key={line.path}>
              <dt>{line.label}</dt>
              <dd>
                {readCardLine(state.form.tables, line, linked?.facts ?? {}) || <span className={textCss.faded}>–</span>}
              </dd>
            </div>
          ))}
        </dl>
      )}
    </aside>
  );
}
