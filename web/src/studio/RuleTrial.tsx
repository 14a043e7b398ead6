import { formatCount } from '@fiche/core/office';
import type { Rule } from '@fiche/core/rules';
import { useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { Trial } from '../tables/index.ts';

interface Tried {
  readonly breaks: number;
  readonly looked: number;
  readonly of: number;
  readonly examples: readonly { id: number; title: string; value: string; why: string }[];
}

/** Before a rule is switched on: how many of the records that are there break it, and which. */
export function RuleTrial({ form, rule, table }: { form: string; rule: Rule; table: string }) {
  const { cabinet } = useOffice();
  const [tried, setTried] = useState<Tried>();
  const [trouble, setTrouble] = useState('');
  const [looking, setLooking] = useState(false);
  const look = async (): Promise<void> => {
    setLooking(true);
    setTrouble('');
    try {
      setTried(await send<Tried>('POST', `/api/forms/${form}/trial`, { rule }));
    } catch (error) {
      setTrouble((error as Error).message);
    } finally {
      setLooking(false);
    }
  };
  const many = (n: number): string => formatCount(n);
  return (
    <>
      <button type="button" className="link small" disabled={looking} onClick={() => void look()}>
        {looking ? 'Looking…' : 'Before you switch it on: who breaks it?'}
      </button>
      {trouble && <p role="alert">{trouble}</p>}
      {tried && (
        <Trial
          heading={
            tried.breaks === 0
              ? `None of ${many(tried.looked)} records breaks it.`
              : `${many(tried.breaks)} of ${many(tried.looked)} records ${tried.breaks === 1 ? 'breaks' : 'break'} it. They stay as they are until somebody saves them.`
          }
          path={`/${cabinet.id}/tables/${table}`}
          breaks={tried.breaks}
          examples={tried.examples.slice(0, 12)}
        >
          {tried.looked < tried.of && (
            <span className="faded">
              The first {many(tried.looked)} of {many(tried.of)} were looked at.
            </span>
          )}
        </Trial>
      )}
    </>
  );
}
