import { formatCount } from '@fiche/core/office';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import { ProgressBar, progressCss, textCss } from '../parts/index.ts';
import type { useExport } from './useExport.ts';

const recordCount = (count: number): string => `${formatCount(count)} ${count === 1 ? 'record' : 'records'}`;

/** How far an export is, with a way to cancel it; what became of it at its end, and what stands against it. */
export function ExportProgress({
  work: { now, over, problems, cancel },
}: {
  readonly work: ReturnType<typeof useExport>;
}) {
  if (problems?.trouble) return <Alert severity="error">{problems.trouble}</Alert>;
  if (!now) return null;
  const { state, done, total } = now;
  if (!over)
    return (
      <div className={progressCss.progress} role="status">
        <div>
          <strong>Exporting</strong>{' '}
          <span className={textCss.faded}>
            {formatCount(done)} of {formatCount(total)} records
          </span>
        </div>
        <ProgressBar label="Export" share={total > 0 ? done / total : undefined} />
        <Button variant="text" onClick={() => void cancel()}>
          Cancel
        </Button>
      </div>
    );
  if (state === 'done')
    return (
      <Alert severity="success" role="status">
        {recordCount(total)} exported. Your browser has the file.
      </Alert>
    );
  return (
    <Alert severity="warning" role="status">
      {state === 'cancelled'
        ? 'Cancelled. A part of the file may be among your downloads: delete it.'
        : 'The download was broken off, so the file is not whole. Export it again.'}
    </Alert>
  );
}
