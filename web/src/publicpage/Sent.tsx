import type { EntryAnswer, OpenPage } from '@fiche/core/api';
import type { Answered } from '@fiche/core/entry';
import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { useEffect, useRef } from 'react';
import { Card, cardCss, textCss } from '../parts/index.ts';
import { receiptAddress } from './address.ts';
import publicPageCss from './publicPage.module.css';

interface SentProps {
  readonly page: OpenPage;
  readonly answer: EntryAnswer;
  readonly answered: readonly Answered[];
  onAgain(): void;
}

/** What a respondent sees after sending: closing words, the reference, what was answered, and the way back to it. */
export function Sent({ page, answer, answered, onAgain }: SentProps) {
  const { page: own } = page.definition;
  const way =
    answer.receipt &&
    receiptAddress(own?.slug ?? '', answer.receipt, page.languages.length > 1 ? page.language : undefined);
  const heading = useRef<HTMLDivElement>(null);
  // The button that had the focus is gone: reading goes on here.
  useEffect(() => heading.current?.focus(), []);
  const words = answer.waits
    ? say('Thank you. The office looks at your answer first; until then nothing is settled.')
    : page.received
      ? say('Thank you. Your corrections have arrived.')
      : own?.thanks;
  return (
    <Card title={page.label}>
      <div className={cardCss.section} role="status" tabIndex={-1} ref={heading}>
        <p>{words}</p>
        <p className={publicPageCss.after}>
          {say('Your reference:')} <strong className={textCss.mono}>{answer.reference}</strong>
        </p>
      </div>
      {way && (
        <div className={cardCss.section}>
          <p>
            {say(
              'You can come back to your answer and correct it. Keep this address; whoever has it reads your answer:',
            )}
          </p>
          <p className={publicPageCss.receipt}>
            <a href={way}>{way}</a>
          </p>
          <CopyButton text={way} />
        </div>
      )}
      {answered.length > 0 && (
        <dl className={publicPageCss.answered} aria-label={say('Your answers')}>
          {answered.map(({ label, value }, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: what was sent never moves, and labels can be alike.
            <div key={at}>
              <dt>{label}</dt>
              <dd>{value}</dd>
            </div>
          ))}
        </dl>
      )}
      {!page.received && (
        <div className={cardCss.foot}>
          <Button onClick={onAgain}>{say('Fill in another')}</Button>
        </div>
      )}
    </Card>
  );
}

function CopyButton({ text }: { readonly text: string }) {
  // Without a secure connection a browser has no clipboard for pages; the address can be marked and copied.
  if (!navigator.clipboard) return null;
  return (
    <Button className={publicPageCss.copy} onClick={() => void navigator.clipboard.writeText(text)}>
      {say('Copy the address')}
    </Button>
  );
}
