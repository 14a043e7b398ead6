import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { addDays, format, parseISO } from 'date-fns';
import { type SyntheticEvent, useState } from 'react';
import { blankProblems, focusFirst, NO_PROBLEMS, placedProblems, useOffice } from '../client/index.ts';
import { CheckField, SelectField, Sheet, settingsCss, textCss } from '../parts/index.ts';
import newTokenCss from './newToken.module.css';
import { RoleField } from './RoleField.tsx';
import { ShownOnce } from './ShownOnce.tsx';
import type { GivableRole } from './usePeople.ts';
import type { useTokens } from './useTokens.ts';

interface NewTokenSheetProps {
  readonly tokens: ReturnType<typeof useTokens>;
  readonly roles: readonly GivableRole[];
  onClose(): void;
}

/** After how many days a token can expire. */
const DAYS = { '30': say('in 30 days'), '90': say('in 90 days'), '365': say('in a year'), '730': say('in two years') };

/** The day so many days from today, in the office’s time zone, as ISO 8601 has it. */
const lastDay = (days: number): string => format(addDays(parseISO(civilNow().slice(0, 10)), days), 'yyyy-MM-dd');

const idOf = (name: string): string => `token-${name}`;

/** Makes a token for a program, and shows it once. */
export function NewTokenSheet({ tokens: { make }, roles, onClose }: NewTokenSheetProps) {
  const [draft, setDraft] = useState({ name: '', role: '', days: '' });
  /** Null for all tables. */
  const [tables, setTables] = useState<readonly string[] | null>(null);
  const [problems, setProblems] = useState(NO_PROBLEMS);
  const [token, setToken] = useState('');
  const refuse = (found: typeof problems): void => {
    setProblems(found);
    focusFirst(found, idOf);
  };
  const submit = async (event: SyntheticEvent): Promise<void> => {
    event.preventDefault();
    const blank = blankProblems(draft, { name: say('Name'), role: say('A role') });
    if (Object.keys(blank.at).length > 0) return refuse(blank);
    try {
      const { name, role, days } = draft;
      setToken(await make({ name, role, tables, until: days === '' ? null : lastDay(Number(days)) }));
    } catch (error) {
      refuse(placedProblems(error, ['name', 'role', 'until', 'tables']));
    }
  };
  if (token !== '')
    return (
      <Sheet title={say('New token')} onClose={onClose}>
        <ShownOnce
          label={say('Token')}
          value={token}
          words={say(
            'Give this to {name}: it sends it with every request, as “Authorization: Bearer …”. It is not shown again.',
            { name: draft.name },
          )}
          submit={say('Copy token')}
        />
      </Sheet>
    );
  return (
    <Sheet title={say('New token')} onClose={onClose}>
      <form
        className={settingsCss.form}
        aria-label={say('New token')}
        noValidate
        onSubmit={(event) => void submit(event)}
      >
        <TextField
          id={idOf('name')}
          autoFocus
          label={say('Name of the program')}
          value={draft.name}
          autoComplete="off"
          error={problems.at.name !== undefined}
          helperText={problems.at.name ?? say('Stamped into every record that it changes, such as gauge-reader.')}
          onChange={(event) => setDraft({ ...draft, name: event.target.value })}
        />
        <RoleField
          id={idOf('role')}
          roles={roles}
          value={draft.role}
          problem={problems.at.role}
          onChange={(role) => setDraft({ ...draft, role })}
        />
        <SelectField
          label={say('Expires')}
          value={draft.days}
          problem={problems.at.until}
          options={[
            { value: '', label: say('never') },
            ...Object.entries(DAYS).map(([value, label]) => ({ value, label })),
          ]}
          onChange={(days) => setDraft({ ...draft, days })}
        />
        <CheckField
          label={say('All tables')}
          checked={tables === null}
          onChange={(all) => setTables(all ? null : [])}
        />
        {tables !== null && <OnlyTables tables={tables} onChange={setTables} />}
        {problems.at.tables && <p className={textCss.problem}>{problems.at.tables}</p>}
        {problems.trouble && <Alert severity="error">{problems.trouble}</Alert>}
        <div className={settingsCss.acts}>
          <Button type="submit" variant="contained">
            {say('Create token')}
          </Button>
        </div>
      </form>
    </Sheet>
  );
}

/** The tables that a token is kept to. */
function OnlyTables({ tables, onChange }: { readonly tables: readonly string[]; onChange(tables: string[]): void }) {
  const { cabinet } = useOffice();
  return (
    <div role="group" className={newTokenCss.tables} aria-label={say('Only these tables')}>
      {cabinet.tables
        .filter((one) => !one.archived)
        .map((one) => (
          <CheckField
            key={one.id}
            label={one.label}
            checked={tables.includes(one.id)}
            onChange={(on) => onChange(on ? [...tables, one.id] : tables.filter((id) => id !== one.id))}
          />
        ))}
    </div>
  );
}
