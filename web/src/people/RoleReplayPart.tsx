import type { RoleReplay } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { RoleDefinition } from '@fiche/core/rights';
import Button from '@mui/material/Button';
import { useMutation } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { Link } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { findingCss, sayWith, textCss } from '../parts/index.ts';
import rolePageCss from './rolePage.module.css';

const saves = (count: number): string => sayCount(count, '{count} save', '{count} saves');

interface Props {
  readonly role: string;
  readonly draft: RoleDefinition;
}

/** Holds the last saves of the people with a role against what it would allow, before that is saved. */
export function RoleReplayPart({ role, draft }: Props) {
  const { cabinet, tables } = useOffice();
  const nameOf = (login: string): string => cabinet.accounts.find((one) => one.login === login)?.displayName ?? login;
  const replay = useMutation({
    mutationFn: () =>
      send<RoleReplay>('POST', `/api/cabinets/${cabinet.id}/roles/${role}/replay`, { definition: draft }),
  });
  const { data } = replay;
  return (
    <section className={rolePageCss.replay} aria-label={say('Try on what was saved')}>
      <p>
        <Button disabled={replay.isPending} onClick={() => replay.mutate()}>
          {replay.isPending ? say('Looking…') : say('Try on what was saved')}
        </Button>
        <span className={textCss.faded}>
          {say(
            'Holds the last 500 saves of the people with this role against what it would allow. Nothing is written.',
          )}
        </span>
      </p>
      {replay.isError && (
        <p className={textCss.problem} role="alert">
          {replay.error.message}
        </p>
      )}
      {data && (
        <div role="status">
          <p className={data.refused === 0 ? undefined : clsx(findingCss.finding, findingCss.look)}>
            {data.looked === 0
              ? say('People with this role have saved nothing yet.')
              : data.refused === 0
                ? say('They could save all of the last {looked} again.', { looked: saves(data.looked) })
                : say('Of the last {looked}, {refused} would be refused.', {
                    looked: saves(data.looked),
                    refused: formatCount(data.refused),
                  })}
          </p>
          {data.reasons.length > 0 && (
            <ul>
              {data.reasons.map(({ table, message, saves: count, examples }) => (
                <li key={`${table} ${message}`}>
                  {tables.get(table)?.label}, {saves(count)}: {message}{' '}
                  {examples.map(({ record, title, account }, n) => (
                    <span key={record} className={textCss.faded}>
                      {sayWith('{n}{link} by {account}', {
                        n: n === 0 ? `${say('Last:')} ` : ', ',
                        link: <Link to={`/${cabinet.id}/tables/${table}/${record}`}>{title}</Link>,
                        account: nameOf(account),
                      })}
                    </span>
                  ))}
                </li>
              ))}
            </ul>
          )}
        </div>
      )}
    </section>
  );
}
