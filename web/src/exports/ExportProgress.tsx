import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import { recordCount } from '../changes/index.ts';
import { ProgressBar, progressCss, textCss } from '../parts/index.ts';
import type { useExport } from './useExport.ts';

interface ProgressProps {
  readonly work: ReturnType<typeof useExport>;
  /** It is a PDF that is made and shown, not a file that is written while it is saved. */
  readonly pdf?: boolean;
}

/** How far an export is, with a way to cancel it; what became of it at its end, and what stands against it. */
export function ExportProgress({ work: { now, over, problems, cancel }, pdf = false }: ProgressProps) {
  if (problems?.trouble) return <Alert severity="error">{problems.trouble}</Alert>;
  if (!now) return null;
  const { state, done, total } = now;
  if (!over)
    return (
      <div className={progressCss.progress} role="status">
        <div>
          <strong>{pdf ? say('Making the PDF') : say('Exporting')}</strong>{' '}
          <span className={textCss.faded}>
            {pdf
              ? recordCount(total)
              : say('{done} of {total}', { done: formatCount(done), total: recordCount(total) })}
          </span>
        </div>
        <ProgressBar label={say('Export')} share={total > 0 && !pdf ? done / total : undefined} />
        {!pdf && (
          <Button variant="text" onClick={() => void cancel()}>
            {say('Cancel')}
          </Button>
        )}
      </div>
    );
  if (state === 'done')
    return (
      <Alert severity="success" role="status">
        {recordCount(total)}{' '}
        {pdf ? say('printed: the PDF is in a tab of its own.') : say('exported. Your browser has the file.')}
      </Alert>
    );
  return (
    <Alert severity="warning" role="status">
      {state === 'cancelled'
        ? say('Cancelled. A part of the file may be among your downloads: delete it.')
        : say('The download was broken off, so the file is not whole. Export it again.')}
    </Alert>
  );
}
