import type { HeldAnswer, SeveralRecords } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { IdOfForm, RecordId } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams } from 'react-router-dom';
import { ServerProblem, send, useOffice } from '../client/index.ts';
import { SeveralFound } from '../entry/index.ts';
import { pageCss, sayWith, showMoment, textCss, Waiting } from '../parts/index.ts';
import heldCss from './held.module.css';

/** Answers of a public page that look like spam or need a choice: each is released or discarded by a person, with a reason. */
export function HeldPage() {
  const { form = '' } = useParams();
  const { cabinet } = useOffice();
  const listed = cabinet.forms.find((one) => one.id === form);
  const queries = useQueryClient();
  const key = ['held', form];
  const query = useQuery({
    queryKey: key,
    queryFn: () => send<{ answers: HeldAnswer[] }>('GET', `/api/forms/${form}/held`),
  });
  if (query.isPending) return <Waiting what={say('Looking for held answers…')} />;
  if (query.isError)
    return (
      <p className={pageCss.empty} role="alert">
        {query.error.message}
      </p>
    );
  const waiting = query.data.answers.filter((one) => one.decision === null);
  const decided = query.data.answers.filter((one) => one.decision !== null);
  return (
    <div className={pageCss.body}>
      <div className={pageCss.head}>
        <h1>{say('{label}: held answers', { label: listed?.label ?? form })}</h1>
      </div>
      <p className={textCss.faded}>
        {say(
          'Answers that look like spam, or that need somebody to choose among records, wait here. Release saves one as its sender would have; discard keeps it out. Nothing is deleted.',
        )}
      </p>
      {waiting.length === 0 ? (
        <p className={pageCss.empty}>{say('No answer is held.')}</p>
      ) : (
        <ul className={heldCss.list}>
          {waiting.map((one) => (
            <Held
              key={one.id}
              form={form}
              answer={one}
              onDecided={() => void queries.invalidateQueries({ queryKey: key })}
            />
          ))}
        </ul>
      )}
      {decided.length > 0 && (
        <>
          <h2>{say('Decided')}</h2>
          <ul className={heldCss.list}>
            {decided.map((one) => (
              <li key={one.id} className={textCss.faded}>
                <span className={textCss.mono}>H-{one.id}</span>{' '}
                {sayWith('{decision} by {decidedBy}{decidedAt}: {reason}', {
                  decision: one.decision,
                  decidedBy: one.decidedBy,
                  decidedAt: one.decidedAt && `, ${showMoment(one.decidedAt)}`,
                  reason: one.reason,
                })}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

interface HeldProps {
  readonly form: IdOfForm;
  readonly answer: HeldAnswer;
  onDecided(): void;
}

function Held({ form, answer, onDecided }: HeldProps) {
  const [reason, setReason] = useState('');
  const [trouble, setTrouble] = useState('');
  const [several, setSeveral] = useState<SeveralRecords>();
  const [meant, setMeant] = useState<Readonly<Record<string, RecordId>>>({});
  const decide = async (decision: 'release' | 'discard'): Promise<void> => {
    if (reason.trim() === '') return setTrouble(say('Write a reason: it is kept with the answer.'));
    setTrouble('');
    setSeveral(undefined);
    try {
      const body = { decision, reason, ...(decision === 'release' ? { meant } : {}) };
      await send('POST', `/api/forms/${form}/held/${answer.id}`, body);
      onDecided();
    } catch (error) {
      const found = error instanceof ServerProblem ? error.document.several : undefined;
      if (found) setSeveral(found);
      else setTrouble((error as Error).message);
    }
  };
  const why = `reason-${answer.id}`;
  return (
    <li>
      <p className={heldCss.head}>
        <span className={textCss.mono}>H-{answer.id}</span>{' '}
        <span className={textCss.stamp}>{showMoment(answer.at)}</span> <strong>{answer.why}</strong>
      </p>
      <dl className={heldCss.values}>
        {answer.values.map(({ label, value }) => (
          <div key={label}>
            <dt>{label}</dt>
            <dd>{value}</dd>
          </div>
        ))}
        {answer.lines.map(({ label, lines }) => (
          <div key={label}>
            <dt>{label}</dt>
            <dd>
              <ol className={heldCss.lines}>
                {lines.map((line, at) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: lines that were sent never move.
                  <li key={at}>{line.map((one) => `${one.label} ${one.value}`).join(', ') || say('a blank line')}</li>
                ))}
              </ol>
            </dd>
          </div>
        ))}
      </dl>
      {several && (
        <SeveralFound
          several={several}
          then="release"
          onChosen={(record) => setMeant({ ...meant, [several.destination]: record })}
        />
      )}
      <p className={heldCss.acts}>
        <TextField
          id={why}
          className={heldCss.reason}
          label={say('Reason')}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
        <Button onClick={() => void decide('release')}>{say('Release')}</Button>
        <Button onClick={() => void decide('discard')}>{say('Discard')}</Button>
      </p>
      {trouble !== '' && (
        <p className={textCss.problem} role="alert">
          {trouble}
        </p>
      )}
    </li>
  );
}
