import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { cardCss, showMoment, textCss } from '../parts/index.ts';
import unsavedCss from './unsaved.module.css';
import type { KeptWork } from './unsavedWork.ts';

/** Work that was left unsaved is back on the card: said, with the way to be rid of it. */
export function UnsavedNote({ left, onThrowAway, onKeep }: { left: KeptWork; onThrowAway(): void; onKeep(): void }) {
  return (
    <p className={clsx(cardCss.section, textCss.notice, unsavedCss.unsaved)} role="status">
      {say('Your unsaved entry of {at} is back.', { at: showMoment(left.at) })}{' '}
      <Button variant="text" onClick={onKeep}>
        {say('Continue')}
      </Button>{' '}
      <Button variant="text" onClick={onThrowAway}>
        {say('Discard')}
      </Button>
    </p>
  );
}
