import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { Rule } from '@fiche/core/rules';
import type { TableId } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { textCss } from '../parts/index.ts';
import { type BrokenRecord, Trial } from './Trial.tsx';

interface Tried {
  readonly breaks: number;
  readonly looked: number;
  readonly of: number;
  readonly examples: readonly BrokenRecord[];
}

/** How many existing records break a rule, and which; `url` is where the rule is tried. */
export function RuleTrial({ url, rule, table }: { url: string; rule: Rule; table: TableId }) {
  const { cabinet } = useOffice();
  const [tried, setTried] = useState<Tried>();
  const [trouble, setTrouble] = useState('');
  const [looking, setLooking] = useState(false);
  const look = async (): Promise<void> => {
    setLooking(true);
    setTrouble('');
    try {
      setTried(await send<Tried>('POST', url, { rule }));
    } catch (error) {
      setTrouble((error as Error).message);
    } finally {
      setLooking(false);
    }
  };
  const many = (n: number): string => formatCount(n);
  return (
    <>
      <Button variant="text" className={textCss.smallButton} disabled={looking} onClick={() => void look()}>
        {looking ? say('Checking…') : say('Check existing records')}
      </Button>
      {trouble && (
        <p className={textCss.problem} role="alert">
          {trouble}
        </p>
      )}
      {tried && (
        <Trial
          heading={
            tried.breaks === 0
              ? say('None of {looked} records breaks it.', { looked: many(tried.looked) })
              : sayCount(
                  tried.breaks,
                  '{count} of {looked} records breaks it. It stays as it is until somebody saves it.',
                  '{count} of {looked} records break it. They stay as they are until somebody saves them.',
                  { looked: many(tried.looked) },
                )
          }
          path={`/${cabinet.id}/tables/${table}`}
          breaks={tried.breaks}
          examples={tried.examples.slice(0, 12)}
        >
          {tried.looked < tried.of && (
            <span className={textCss.faded}>
              {say('The first {looked} of {of} were checked.', { looked: many(tried.looked), of: many(tried.of) })}
            </span>
          )}
        </Trial>
      )}
    </>
  );
}
