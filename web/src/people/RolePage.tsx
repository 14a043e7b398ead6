import type { ListedRole } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import type { RoleDefinition } from '@fiche/core/rights';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router-dom';
import { ServerProblem, seeCabinetAs, useOffice } from '../client/index.ts';
import { findingCss, pageCss, sayWith, textCss, useLeaving, useNotify, Waiting } from '../parts/index.ts';
import { RoleGrid } from './RoleGrid.tsx';
import { RoleReplayPart } from './RoleReplayPart.tsx';
import { RoleSettings } from './RoleSettings.tsx';
import rolePageCss from './rolePage.module.css';
import { useRoles } from './useRoles.ts';

/** One role of the cabinet: what it allows, table by table. */
export function RolePage() {
  const { role: id = '' } = useParams();
  const { cabinet, may } = useOffice();
  const roles = useRoles();
  if (!may('people')) return <p className={pageCss.empty}>{say('Your role does not allow managing people.')}</p>;
  if (!roles.roles)
    return roles.error ? (
      <p className={textCss.problem}>{roles.error.message}</p>
    ) : (
      <Waiting what={say('Fetching the role…')} />
    );
  const listed = roles.roles.find((one) => one.role.id === id);
  if (!listed)
    return (
      <p className={pageCss.empty}>
        {sayWith('This role is not there any more. {link}', {
          link: <Link to={`/${cabinet.id}/people`}>{say('All people and roles')}</Link>,
        })}
      </p>
    );
  // Another revision is another start: what was not saved of it is gone with the page that asked.
  return <EditedRole key={`${id} ${listed.role.revision}`} listed={listed} roles={roles} />;
}

const definitionOf = ({ role: { id: _id, revision: _revision, ...definition } }: ListedRole): RoleDefinition =>
  definition;

function EditedRole({ listed, roles }: { listed: ListedRole; roles: ReturnType<typeof useRoles> }) {
  const { cabinet, may } = useOffice();
  const notify = useNotify();
  const navigate = useNavigate();
  const saved = definitionOf(listed);
  const [draft, setDraft] = useState(saved);
  const [problems, setProblems] = useState<Readonly<Record<string, string>>>({});
  const [trouble, setTrouble] = useState('');
  const changed = JSON.stringify(draft) !== JSON.stringify(saved);
  const leaving = useLeaving(changed, () => undefined);
  const { id, revision } = listed.role;
  const disabled = !listed.mayChange;
  const refuse = (error: unknown): void => {
    const errors = error instanceof ServerProblem ? error.document.errors : [];
    setProblems(Object.fromEntries(errors.map((one) => [one.path, one.message])));
    setTrouble(errors.length === 0 ? (error as Error).message : '');
  };
  const save = async (): Promise<void> => {
    try {
      setProblems({});
      setTrouble('');
      await roles.save(id, draft, revision);
      notify(
        say('{label} is saved. It holds from the next thing that somebody with the role does.', { label: draft.label }),
      );
    } catch (error) {
      refuse(error);
    }
  };
  const remove = async (): Promise<void> => {
    try {
      leaving.current = true;
      await roles.remove(id);
      notify(say('The role {label} is deleted.', { label: saved.label }));
      navigate(`/${cabinet.id}/people`);
    } catch (error) {
      leaving.current = false;
      refuse(error);
    }
  };
  const seeAs = (): void => {
    leaving.current = true;
    seeCabinetAs(cabinet.id, id).catch(refuse);
  };
  return (
    <div className={pageCss.body}>
      <div className={pageCss.head}>
        <h1>{saved.label}</h1>
        <span className={textCss.faded}>{havingIt(listed)}</span>
        <div className={pageCss.end}>
          {changed && <span className={textCss.faded}>{say('not saved yet')}</span>}
          {!disabled && (
            <Button variant="text" onClick={() => void remove()}>
              {say('Delete role')}
            </Button>
          )}
          {may('build') && !saved.rights.includes('build') && (
            <Button onClick={seeAs}>{say('See the cabinet as {label}', { label: saved.label })}</Button>
          )}
          <Button variant="contained" disabled={disabled || !changed} onClick={() => void save()}>
            {say('Save role')}
          </Button>
        </div>
      </div>
      {disabled && (
        <Alert severity="info">
          {say('This role allows more than yours: somebody who may do all of it can change it.')}
        </Alert>
      )}
      {trouble && <Alert severity="error">{trouble}</Alert>}
      {!changed &&
        listed.findings.map((finding) => (
          <p key={finding} className={clsx(findingCss.finding, findingCss.look)}>
            ● {finding}
          </p>
        ))}
      {changed && <RoleReplayPart key={JSON.stringify(draft)} role={id} draft={draft} />}
      <fieldset className={rolePageCss.plain} disabled={disabled}>
        <RoleSettings role={draft} problem={problems.label} onChange={setDraft} />
        <RoleGrid role={draft} problems={problems} onChange={setDraft} />
      </fieldset>
    </div>
  );
}

const havingIt = ({ people, tokens }: ListedRole): string =>
  people + tokens === 0
    ? say('nobody has it yet')
    : [
        ...(people > 0 ? [sayCount(people, '1 person has it', '{count} people have it')] : []),
        ...(tokens > 0 ? [sayCount(tokens, '1 token has it', '{count} tokens have it')] : []),
      ].join(', ');
