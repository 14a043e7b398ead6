import type { MissedSaves } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { Ripple, TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { Link } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { showMoment, textCss } from '../parts/index.ts';
import ripplesCss from './ripples.module.css';

/** Lists the saves since a ripple was last changed that it should have followed and did not. */
export function MissedSavesOf({ table, ripple }: { table: TableDefinition; ripple: Ripple }) {
  const { cabinet } = useOffice();
  const [found, setFound] = useState<MissedSaves>();
  const [trouble, setTrouble] = useState('');
  const look = async (): Promise<void> => {
    setTrouble('');
    try {
      setFound(await send<MissedSaves>('GET', `/api/tables/${table.id}/ripples/${ripple.id}/missed`));
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return (
    <>
      <Button variant="text" className={textCss.smallButton} onClick={() => void look()}>
        {say('Look for saves that it missed')}
      </Button>
      {trouble && (
        <p className={textCss.problem} role="alert">
          {trouble}
        </p>
      )}
      {found && (
        <div className={ripplesCss.found} role="status">
          <p>
            {found.saves.length === 0
              ? say('It followed every save that it should have, of {looked} since {since}.', {
                  looked: formatCount(found.looked),
                  since: showMoment(found.since),
                })
              : say('It did not follow {count} of {looked} saves since {since}:', {
                  count: formatCount(found.saves.length),
                  looked: formatCount(found.looked),
                  since: showMoment(found.since),
                })}
            {found.more && ` ${say('Only the newest 20,000 lines were looked at.')}`}
          </p>
          <ul>
            {found.saves.map((one) => (
              <li key={`${one.transaction} ${one.record}`}>
                <Link to={`/${cabinet.id}/tables/${table.id}/${one.record}`}>{one.title}</Link>, {showMoment(one.at)},{' '}
                {one.account}, {one.through}
              </li>
            ))}
          </ul>
        </div>
      )}
    </>
  );
}
