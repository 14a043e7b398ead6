import { showMoment } from '../parts/index.ts';
import type { KeptWork } from './unsavedWork.ts';

/** Work that was left unsaved is back on the card: said, with the way to be rid of it. */
export function UnsavedNote({ left, onThrowAway, onKeep }: { left: KeptWork; onThrowAway(): void; onKeep(): void }) {
  return (
    <p className="card-section ruled-notice unsaved" role="status">
      What you entered here and did not save, begun {showMoment(left.at)}, is back.{' '}
      <button type="button" className="link" onClick={onKeep}>
        Go on with it
      </button>{' '}
      <button type="button" className="link" onClick={onThrowAway}>
        Throw it away
      </button>
    </p>
  );
}
