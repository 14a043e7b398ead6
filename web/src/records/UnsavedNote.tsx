import Button from '@mui/material/Button';
import { showMoment } from '../parts/index.ts';
import type { KeptWork } from './unsavedWork.ts';

/** Work that was left unsaved is back on the card: said, with the way to be rid of it. */
export function UnsavedNote({ left, onThrowAway, onKeep }: { left: KeptWork; onThrowAway(): void; onKeep(): void }) {
  return (
    <p className="card-section ruled-notice unsaved" role="status">
      Your unsaved entry of {showMoment(left.at)} is back.{' '}
      <Button variant="text" onClick={onKeep}>
        Continue
      </Button>{' '}
      <Button variant="text" onClick={onThrowAway}>
        Discard
      </Button>
    </p>
  );
}
