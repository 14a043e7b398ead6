import type { TaskView } from '@fiche/core/api';
import { formatCount } from '@fiche/core/office';

/** A work that goes on in the background: how far it is, and a way to stop it. */
export function Progress({ task, onCancel }: { task: TaskView; onCancel(): void }) {
  const { label, done, total, cancelling } = task;
  const share = total ? Math.min(100, Math.round((done / total) * 100)) : undefined;
  return (
    <div className="progress" role="status">
      <div>
        <strong>{label}</strong>{' '}
        <span className="faded">
          {total === null
            ? 'beginning…'
            : `${formatCount(done)} of ${formatCount(total)}${cancelling ? ', stopping…' : ''}`}
        </span>
      </div>
      <progress max={100} value={share} aria-label={label} />
      <button type="button" className="button plain" disabled={cancelling} onClick={onCancel}>
        Cancel
      </button>
    </div>
  );
}
