import type { TriedRipple } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { Ripple, TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { send } from '../client/index.ts';
import { Sentence, showMoment, textCss } from '../parts/index.ts';
import ripplesCss from './ripples.module.css';

interface RippleTrialProps {
  readonly table: TableDefinition;
  readonly ripple: Ripple;
  readonly disabled: boolean;
}

const DOES = { add: say('A line in'), change: say('A change of a record of'), message: say('A message to') } as const;

/** Tries a ripple on the last save of a record: what it would write, and whether it follows that save. Nothing is written. */
export function RippleTrial({ table, ripple, disabled }: RippleTrialProps) {
  const [tried, setTried] = useState<TriedRipple>();
  const [trouble, setTrouble] = useState('');
  const find = async (search: string) => {
    const { records } = await send<{ records: { id: number; title: string }[] }>(
      'GET',
      `/api/tables/${table.id}/records?limit=12&direction=down&search=${encodeURIComponent(search)}`,
    );
    return records.map((one) => ({ value: String(one.id), label: one.title, detail: say('No. {id}', { id: one.id }) }));
  };
  const tryOn = async (record: string): Promise<void> => {
    setTrouble('');
    setTried(undefined);
    try {
      const body = { ripple, record: Number(record) };
      setTried(await send<TriedRipple>('POST', `/api/tables/${table.id}/ripple-trial`, body));
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  if (disabled)
    return (
      <Button variant="text" className={textCss.smallButton} disabled>
        {say('Try on a record')}
      </Button>
    );
  return (
    <>
      <Sentence
        parts={[
          {
            key: 'try',
            label: say('record to try it on'),
            shown: say('Try on a record'),
            quiet: true,
            pick: { kind: 'options', options: [], typed: find },
            onSet: (record) => void tryOn(record),
          },
        ]}
      />
      {trouble && (
        <p className={textCss.problem} role="alert">
          {trouble}
        </p>
      )}
      {tried && (
        <div className={ripplesCss.found} role="status">
          <p>
            {say('{follows} the last save of {title}, which {account} has {kind} on {at}. {after}', {
              follows: tried.follows ? say('It follows') : say('It does not follow'),
              title: tried.save.title,
              account: tried.save.account,
              kind: tried.save.kind,
              at: showMoment(tried.save.at),
              after: tried.follows ? say('It would write:') : say('If it did, it would write:'),
            })}
          </p>
          {tried.effects.map((effect, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: the effects of one trial never change their places.
            <div key={at} className={ripplesCss.tried}>
              <strong>
                {DOES[effect.does]} {effect.to}
              </strong>
              <dl>
                {effect.values.map((one) => (
                  <div key={one.label}>
                    <dt>{one.label}</dt>
                    <dd>{one.value}</dd>
                  </div>
                ))}
              </dl>
            </div>
          ))}
          {tried.problem && <p className={textCss.problem}>{tried.problem}</p>}
          <p className={textCss.faded}>{say('Nothing was written.')}</p>
        </div>
      )}
    </>
  );
}
