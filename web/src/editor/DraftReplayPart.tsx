import type { DraftReplay } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { IdOfForm } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useMutation } from '@tanstack/react-query';
import { Link } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { findingCss, settingsCss, textCss } from '../parts/index.ts';

const records = (count: number): string => sayCount(count, '{count} record', '{count} records');

/** Decides the last records that the published version saved again under the draft, and lists what would be otherwise. */
export function DraftReplayPart({ form }: { readonly form: IdOfForm }) {
  const { cabinet } = useOffice();
  const replay = useMutation({ mutationFn: () => send<DraftReplay>('POST', `/api/forms/${form}/draft/replay`, {}) });
  const { data } = replay;
  const list = (heading: string, found: DraftReplay['refused']) =>
    found.length > 0 && (
      <section aria-label={heading}>
        <h3>{heading}</h3>
        <ul>
          {found.map((one) => (
            <li key={`${one.record} ${one.field} ${one.message}`}>
              <Link to={`/${cabinet.id}/forms/${form}/${one.record}`}>{one.title}</Link>
              {one.field !== '' && `, ${one.field}`}: {one.message}
            </li>
          ))}
        </ul>
      </section>
    );
  return (
    <section aria-label={say('Decided again')}>
      <h3>{say('What was saved, decided again')}</h3>
      <p className={textCss.faded}>
        {say(
          'The last 500 records that the published version saved, from what was entered and the reasons that were given, with the choices of today. Nothing is written.',
        )}
      </p>
      <p className={settingsCss.acts}>
        <Button disabled={replay.isPending} onClick={() => replay.mutate()}>
          {replay.isPending ? say('Deciding…') : say('Decide them again under this draft')}
        </Button>
      </p>
      {replay.isError && (
        <p className={textCss.problem} role="alert">
          {replay.error.message}
        </p>
      )}
      {data && (
        <div className={findingCss.look} role="status">
          <p>
            {say(
              'Of {looked}, {refused} would be refused, {asked} asked about, and {differ} filled or calculated otherwise.',
              {
                looked: records(data.looked),
                refused: formatCount(data.counts.refused),
                asked: formatCount(data.counts.asked),
                differ: formatCount(data.counts.differ),
              },
            )}
          </p>
          {list(say('Would be refused'), data.refused)}
          {list(say('Would be asked about'), data.asked)}
          {list(say('Would be otherwise'), data.differ)}
        </div>
      )}
    </section>
  );
}
