import type { TaskView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import progressCss from './progress.module.css';
import textCss from './text.module.css';

/** A bar for work whose share done (0 to 1) may be unknown. */
export function ProgressBar({ label, share }: { label: string; share: number | undefined }) {
  return (
    <LinearProgress
      className={progressCss.bar}
      aria-label={label}
      variant={share === undefined ? 'indeterminate' : 'determinate'}
      value={share === undefined ? undefined : Math.min(100, Math.round(share * 100))}
    />
  );
}

/** A task of the server: how far it is, and a way to cancel it. */
export function Progress({ task, onCancel }: { task: TaskView; onCancel(): void }) {
  const { label, done, total, cancelling } = task;
  return (
    <div className={progressCss.progress} role="status">
      <div>
        <strong>{label}</strong>{' '}
        <span className={textCss.faded}>
          {total === null
            ? say('starting…')
            : say('{done} of {total}{cancelling}', {
                done: formatCount(done),
                total: formatCount(total),
                cancelling: cancelling ? say(', stopping…') : '',
              })}
        </span>
      </div>
      <ProgressBar label={label} share={total ? done / total : undefined} />
      <Button variant="text" disabled={cancelling} onClick={onCancel}>
        {say('Cancel')}
      </Button>
    </div>
  );
}
