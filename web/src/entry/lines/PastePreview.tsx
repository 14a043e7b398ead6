import { type EntryEvent, openColumns, presentLines, splitPath, visibleProblems } from '@fiche/core/entry';
import type { PreparedSubform } from '@fiche/core/forms';
import { say, sayCount } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { placeName } from '../focus.ts';
import type { Entry } from '../useEntry.ts';
import linesCss from './lines.module.css';

/** What a pasted block would come to. */
export interface Pasted {
  /** Pastes it. */
  take(): void;
  readonly rows: number;
  /** What does not fit, each with its place. */
  readonly misfits: readonly string[];
}

/** Runs a pasted block through the form, its choices looked up, and says what does not fit before anything is done. */
export async function pastePreview(
  entry: Entry,
  subform: PreparedSubform,
  event: Extract<EntryEvent, { type: 'pasted' }>,
): Promise<Pasted> {
  const before = new Set(visibleProblems(entry.state).map((one) => `${one.path} ${one.rule}`));
  const { state, take } = await entry.tryOut(event);
  const columns = openColumns(subform);
  const from = columns.indexOf(event.field);
  const widest = Math.max(...event.rows.map((row) => row.length));
  const beside = widest - (columns.length - from);
  const at = presentLines(entry.state, subform.id).findIndex((line) => line.key === event.line.key);
  const first = at < 0 ? presentLines(entry.state, subform.id).length : at;
  const below = first + event.rows.length - (subform.definition.most ?? Number.POSITIVE_INFINITY);
  const wrong = visibleProblems(state).filter(
    (one) => splitPath(one.path)?.line.subform === subform.id && !before.has(`${one.path} ${one.rule}`),
  );
  return {
    take,
    rows: event.rows.length,
    misfits: [
      ...(beside > 0
        ? [
            sayCount(
              beside,
              'The last column of the block would be left out.',
              'The last {count} columns of the block would be left out.',
            ),
          ]
        : []),
      ...(below > 0
        ? [
            sayCount(
              below,
              'The last row would be left out: there is no room.',
              'The last {count} rows would be left out: there is no room.',
            ),
          ]
        : []),
      ...wrong.map((one) => `${placeName(state, one.path)}: ${one.message}`),
    ],
  };
}

const SHOWN = 12;

export function PastePreview({ pasted, onTake, onClose }: { pasted: Pasted; onTake(): void; onClose(): void }) {
  const { misfits, rows } = pasted;
  return (
    <section className={linesCss.paste} aria-label={say('Pasted rows')} role="alertdialog">
      <p>
        <strong>
          {sayCount(rows, '{count} row pasted.', '{count} rows pasted.')}{' '}
          {sayCount(misfits.length, 'One problem.', '{count} problems.')}
        </strong>{' '}
        {say('A value that cannot be read stays in its cell, so that you can correct it.')}
      </p>
      <ul>
        {misfits.slice(0, SHOWN).map((one) => (
          <li key={one}>{one}</li>
        ))}
        {misfits.length > SHOWN && <li>{say('and {more} more.', { more: misfits.length - SHOWN })}</li>}
      </ul>
      <Button autoFocus onClick={onTake}>
        {say('Paste anyway')}
      </Button>{' '}
      <Button variant="text" onClick={onClose}>
        {say('Cancel')}
      </Button>
    </section>
  );
}
