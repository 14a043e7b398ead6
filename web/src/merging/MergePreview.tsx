import type { MergeAnswer } from '@fiche/core/api';
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
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;

/** What a merge would do, in words: what changes in the record that stays, what moves to it, what stands against it. */
export function MergePreview({ answer: { changes, moved, uses, problems }, count, title }: PreviewProps) {
  const others = count === 2 ? 'The other one is' : `The ${formatCount(count - 1)} others are`;
  const tables = [...new Set(moved.map((one) => one.what))].map((what) => {
    const sum = moved.filter((one) => one.what === what).reduce((all, one) => all + one.count, 0);
    return `${formatCount(sum)} ${sum === 1 ? 'record' : 'records'} of ${what}`;
  });
  const total = moved.reduce((all, one) => all + one.count, 0);
  return (
    <div className={mergingCss.preview} aria-live="polite">
      {problems.length > 0 && (
        <Alert severity="error">
          This cannot be merged so:
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
        {others} archived.{' '}
        {moved.length === 0
          ? 'No records link to what is archived.'
          : `${listed(tables)} that ${total === 1 ? 'links' : 'link'} there will point to ${title}.`}{' '}
        All of it is one save, which can be put back.
      </p>
      {uses.length > 0 && (
        <div>
          <span className={textCss.faded}>
            {count === 2 ? 'The record that is archived is' : 'Records that are archived are'} named here. A merge does
            not change that: choose {title} there afterwards.
          </span>
          <Uses uses={uses} />
        </div>
      )}
      {changes.length > 0 && (
        <div>
          <span className={textCss.faded}>In {title}:</span>
          {changes.map((change) => (
            <div key={change.field} className={ledgerLineCss.change}>
              {change.label}: <del>{change.before || 'blank'}</del> <span aria-hidden="true">→</span>
              <span className={textCss.visuallyHidden}>becomes</span> <ins>{change.after || 'blank'}</ins>
            </div>
          ))}
        </div>
      )}
    </div>
  );
}
