import type { MergeAnswer } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import Alert from '@mui/material/Alert';
import { ledgerLineCss, textCss } from '../parts/index.ts';
import { Uses } from '../uses/index.ts';
import mergingCss from './merging.module.css';

interface PreviewProps {
  readonly answer: MergeAnswer;
  readonly count: number;
  /** What the record that stays is called. */
  readonly title: string;
}

const listed = (words: readonly string[]): string =>
  words.length < 2
    ? (words[0] ?? '')
    : say('{first} and {last}', { first: words.slice(0, -1).join(', '), last: words.at(-1) ?? '' });

/** What a merge would do, in words: what changes in the record that stays, what moves to it, what stands against it. */
export function MergePreview({ answer: { changes, moved, uses, problems }, count, title }: PreviewProps) {
  const others =
    count === 2 ? say('The other one is') : say('The {count} others are', { count: formatCount(count - 1) });
  const tables = [...new Set(moved.map((one) => one.what))].map((what) => {
    const sum = moved.filter((one) => one.what === what).reduce((all, one) => all + one.count, 0);
    return say('{sum} of {what}', { sum: sayCount(sum, '{count} record', '{count} records'), what });
  });
  const total = moved.reduce((all, one) => all + one.count, 0);
  return (
    <div className={mergingCss.preview} aria-live="polite">
      {problems.length > 0 && (
        <Alert severity="error">
          {say('This cannot be merged so:')}
          <ul>
            {problems.map((one) => (
              <li key={`${one.what} ${one.record} ${one.message}`}>
                {one.what} <strong>{one.title}</strong>: {one.message}
              </li>
            ))}
          </ul>
        </Alert>
      )}
      <p>
        {say('{others} archived. {count} All of it is one save, which can be put back.', {
          others,
          count:
            moved.length === 0
              ? say('No records link to what is archived.')
              : say('{tables} that {total} there will point to {title}.', {
                  tables: listed(tables),
                  total: sayCount(total, 'links', 'link'),
                  title,
                }),
        })}
      </p>
      {uses.length > 0 && (
        <div>
          <span className={textCss.faded}>
            {say('{count} named in these places, which the merge does not change. Choose {title} there afterwards.', {
              count: count === 2 ? say('The record that is archived is') : say('Records that are archived are'),
              title,
            })}
          </span>
          <Uses uses={uses} />
        </div>
      )}
      {changes.length > 0 && (
        <div>
          <span className={textCss.faded}>{say('In {title}:', { title })}</span>
          {changes.map((change) => (
            <div key={change.field} className={ledgerLineCss.change}>
              {change.label}: <del>{change.before || say('blank')}</del> <span aria-hidden="true">→</span>
              <span className={textCss.visuallyHidden}>{say('becomes')}</span> <ins>{change.after || say('blank')}</ins>
            </div>
          ))}
        </div>
      )}
    </div>
  );
}
