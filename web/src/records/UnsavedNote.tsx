import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { cardCss, showMoment, textCss } from '../parts/index.ts';
import unsavedCss from './unsaved.module.css';
import type { KeptWork } from './unsavedWork.ts';

/** Work that was left unsaved is back on the card: said, with the way to be rid of it. */
export function UnsavedNote({ left, onThrowAway, onKeep }: { left: KeptWork; onThrowAway(): void; onKeep(): void }) {
  return (
    <p className={clsx(cardCss.section, textCss.notice, unsavedCss.unsaved)} role="status">
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
