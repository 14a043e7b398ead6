import type { ImportCounts } from '@fiche/core/imports';
import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import Button from '@mui/material/Button';
import { useCallback, useEffect, useRef, useState } from 'react';
import { sayWith, textCss } from '../parts/index.ts';
import { BadRows } from './BadRows.tsx';
import verdictCss from './verdict.module.css';

interface VerdictProps {
  readonly cabinet: string;
  readonly id: number;
  /** The check that found this. */
  readonly check: number;
  readonly counts: ImportCounts;
  onCheck(): void;
  onRun(rows: 'all' | 'good'): void;
}

/** What the check found: counts, the rows to correct, and what can be done now. */
export function Verdict({ cabinet, id, check, counts, onCheck, onRun }: VerdictProps) {
  const base = `/api/cabinets/${cabinet}/imports/${id}`;
  const [corrected, setCorrected] = useState(0);
  const sending = useRef<Promise<unknown>>(Promise.resolve());
  const checkAgain = (): void => void sending.current.then(onCheck);
  // What was found, and what can be done now, come into sight.
  const section = useRef<HTMLElement>(null);
  const show = useCallback(() => section.current?.scrollIntoView({ block: 'nearest' }), []);
  useEffect(() => {
    show();
  }, [show]);
  const good = counts.add + counts.change;
  const found = [
    counts.add > 0 ? say('{add} to add', { add: sayCount(counts.add, '{count} record', '{count} records') }) : '',
    counts.change > 0 ? say('{change} to change', { change: formatCount(counts.change) }) : '',
    counts.skip > 0 ? say('{skip} to skip', { skip: sayCount(counts.skip, '{count} row', '{count} rows') }) : '',
    counts.repeated
      ? say('{repeated} that repeat the column names', {
          repeated: sayCount(counts.repeated, '{count} row', '{count} rows'),
        })
      : '',
    counts.bad > 0 ? say('{bad} to correct', { bad: sayCount(counts.bad, '{count} row', '{count} rows') }) : '',
  ].filter((part) => part !== '');
  return (
    <section ref={section} className={verdictCss.verdict} aria-label={say('What the check found')}>
      <p role="status">
        {sayWith('{name} {list}. Nothing is written yet.', {
          name: (
            <strong>{say('{rows} checked:', { rows: sayCount(counts.rows, '{count} row', '{count} rows') })}</strong>
          ),
          list: found.join(', '),
        })}
      </p>
      {counts.bad > 0 && (
        <>
          <p className={textCss.faded}>
            {sayWith('Correct the cells here, then check again; or {link}.', {
              link: (
                <a href={`${base}/bad-rows/export`} download>
                  {say('export these rows as CSV with their reasons')}
                </a>
              ),
            })}
          </p>
          <BadRows
            base={base}
            check={check}
            total={counts.bad}
            sending={sending}
            onCorrected={setCorrected}
            onLoaded={show}
          />
        </>
      )}
      <div className={verdictCss.trialActs}>
        {good > 0 && counts.bad === 0 && (
          <Button variant="contained" onClick={() => onRun('all')}>
            {say('Import {good}', { good: sayCount(good, '{count} row', '{count} rows') })}
          </Button>
        )}
        {corrected > 0 ? (
          <Button variant="contained" onClick={checkAgain}>
            {say('Check again with {corrected}', {
              corrected: sayCount(corrected, '{count} corrected row', '{count} corrected rows'),
            })}
          </Button>
        ) : (
          <Button onClick={checkAgain}>{say('Check again')}</Button>
        )}
        {good > 0 && counts.bad > 0 && (
          <Button onClick={() => onRun('good')}>
            {say('Import the {good} only', { good: sayCount(good, '{count} good row', '{count} good rows') })}
          </Button>
        )}
      </div>
    </section>
  );
}
