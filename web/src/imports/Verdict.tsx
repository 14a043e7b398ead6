import type { ImportCounts } from '@fiche/core/imports';
import { formatCount } from '@fiche/core/office';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { send } from '../client/index.ts';

interface BadRows {
  readonly names: readonly string[];
  readonly rows: readonly {
    number: number;
    cells: readonly string[];
    problems: readonly { column: string; message: string }[];
  }[];
}

interface Props {
  readonly cabinet: string;
  readonly id: number;
  readonly counts: ImportCounts;
  onRun(rows: 'all' | 'good'): void;
}

/** What the check found: counts, every bad row with its reasons, and what can be done now. */
export function Verdict({ cabinet, id, counts, onRun }: Props) {
  const base = `/api/cabinets/${cabinet}/imports/${id}/bad-rows`;
  const query = useQuery({
    queryKey: ['bad-rows', id, counts.bad],
    queryFn: () => send<BadRows>('GET', base),
    enabled: counts.bad > 0,
  });
  const n = (count: number, one: string, many: string): string => `${formatCount(count)} ${count === 1 ? one : many}`;
  const good = counts.add + counts.change;
  const said = [
    counts.add > 0 ? `${n(counts.add, 'record', 'records')} to add` : '',
    counts.change > 0 ? `${formatCount(counts.change)} to change` : '',
    counts.skip > 0 ? `${n(counts.skip, 'row', 'rows')} to skip` : '',
    counts.repeated ? `${n(counts.repeated, 'row', 'rows')} that repeat the column names` : '',
    counts.bad > 0 ? `${n(counts.bad, 'row', 'rows')} to correct` : '',
  ].filter((part) => part !== '');
  return (
    <section className="verdict" aria-label="What the check found">
      <p role="status">
        <strong>{n(counts.rows, 'row', 'rows')} checked:</strong> {said.join(', ')}. Nothing is written yet.
      </p>
      {counts.bad > 0 && (
        <>
          <ul aria-label="Rows to correct">
            {query.data?.rows.slice(0, 50).map((row) => (
              <li key={row.number}>
                <span className="mono faded">row {row.number}</span>{' '}
                {row.problems.map((problem) => (
                  <span key={`${problem.column} ${problem.message}`}>
                    <strong>{problem.column}</strong>: {problem.message}{' '}
                  </span>
                ))}
                <span className="faded">{row.cells.slice(0, 5).join(' · ').slice(0, 90)}</span>
              </li>
            ))}
          </ul>
          <a href={`${base}/export`} download>
            Export these rows as CSV with their reasons
          </a>
        </>
      )}
      <div className="trial-acts">
        {good > 0 && counts.bad === 0 && (
          <Button variant="contained" onClick={() => onRun('all')}>
            Import {n(good, 'row', 'rows')}
          </Button>
        )}
        {good > 0 && counts.bad > 0 && (
          <Button onClick={() => onRun('good')}>Import the {n(good, 'good row', 'good rows')} only</Button>
        )}
      </div>
    </section>
  );
}
