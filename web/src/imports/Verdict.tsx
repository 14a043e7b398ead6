import type { ImportCounts } from '@fiche/core/imports';
import { formatCount } from '@fiche/core/office';
import Button from '@mui/material/Button';
import { useCallback, useEffect, useRef, useState } from 'react';
import { textCss } from '../parts/index.ts';
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
  const n = (count: number, one: string, many: string): string => `${formatCount(count)} ${count === 1 ? one : many}`;
  const good = counts.add + counts.change;
  const found = [
    counts.add > 0 ? `${n(counts.add, 'record', 'records')} to add` : '',
    counts.change > 0 ? `${formatCount(counts.change)} to change` : '',
    counts.skip > 0 ? `${n(counts.skip, 'row', 'rows')} to skip` : '',
    counts.repeated ? `${n(counts.repeated, 'row', 'rows')} that repeat the column names` : '',
    counts.bad > 0 ? `${n(counts.bad, 'row', 'rows')} to correct` : '',
  ].filter((part) => part !== '');
  return (
    <section ref={section} className={verdictCss.verdict} aria-label="What the check found">
      <p role="status">
        <strong>{n(counts.rows, 'row', 'rows')} checked:</strong> {found.join(', ')}. Nothing is written yet.
      </p>
      {counts.bad > 0 && (
        <>
          <p className={textCss.faded}>
            Correct the cells here, then check again; or{' '}
            <a href={`${base}/bad-rows/export`} download>
              export these rows as CSV with their reasons
            </a>
            .
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
            Import {n(good, 'row', 'rows')}
          </Button>
        )}
        {corrected > 0 ? (
          <Button variant="contained" onClick={checkAgain}>
            Check again with {n(corrected, 'corrected row', 'corrected rows')}
          </Button>
        ) : (
          <Button onClick={checkAgain}>Check again</Button>
        )}
        {good > 0 && counts.bad > 0 && (
          <Button onClick={() => onRun('good')}>Import the {n(good, 'good row', 'good rows')} only</Button>
        )}
      </div>
    </section>
  );
}
