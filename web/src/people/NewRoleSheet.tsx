import { say } from '@fiche/core/languages';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { type SyntheticEvent, useState } from 'react';
import { useNavigate } from 'react-router-dom';
import { blankProblems, focusFirst, NO_PROBLEMS, placedProblems } from '../client/index.ts';
import { SelectField, Sheet, settingsCss } from '../parts/index.ts';
import type { useRoles } from './useRoles.ts';

const idOf = (name: string): string => `role-${name}`;

/** Makes a role as a copy of another, and opens it to say what it allows. */
export function NewRoleSheet({
  roles: { roles = [], create },
  onClose,
}: {
  roles: ReturnType<typeof useRoles>;
  onClose(): void;
}) {
  const navigate = useNavigate();
  const givable = roles.filter((one) => one.mayChange);
  // Most new roles do a part of what most people do.
  const [first] = [...givable]
    .filter((one) => !one.role.rights.includes('build') || givable.length === 1)
    .sort((a, b) => b.people - a.people);
  const [chosen, setDraft] = useState({ label: '', from: '' });
  // Until somebody chooses, and the roles may still be on their way.
  const draft = { ...chosen, from: chosen.from || (first?.role.id ?? '') };
  const [problems, setProblems] = useState(NO_PROBLEMS);
  const refuse = (found: typeof problems): void => {
    setProblems(found);
    focusFirst(found, idOf);
  };
  const submit = async (event: SyntheticEvent): Promise<void> => {
    event.preventDefault();
    const blank = blankProblems(draft, { label: say('Name'), from: say('A role to begin with') });
    if (Object.keys(blank.at).length > 0) return refuse(blank);
    try {
      const made = await create(draft.label, draft.from);
      navigate(`roles/${made.id}`);
    } catch (error) {
      refuse(placedProblems(error, ['label', 'from']));
    }
  };
  return (
    <Sheet title={say('New role')} onClose={onClose}>
      <form
        className={settingsCss.form}
        aria-label={say('New role')}
        noValidate
        onSubmit={(event) => void submit(event)}
      >
        <TextField
          id={idOf('label')}
          autoFocus
          label={say('Name')}
          value={draft.label}
          autoComplete="off"
          error={problems.at.label !== undefined}
          helperText={problems.at.label ?? say('What people with this role do, such as Night clerk.')}
          onChange={(event) => setDraft({ ...draft, label: event.target.value })}
        />
        <SelectField
          id={idOf('from')}
          label={say('Begins as a copy of')}
          value={draft.from}
          problem={problems.at.from}
          options={givable.map((one) => ({ value: one.role.id, label: one.role.label }))}
          onChange={(from) => setDraft({ ...draft, from })}
        />
        {problems.trouble && <Alert severity="error">{problems.trouble}</Alert>}
        <div className={settingsCss.acts}>
          {/* The role to begin with is proposed once the roles are there. */}
          <Button type="submit" variant="contained" disabled={roles.length === 0}>
            {say('Create role')}
          </Button>
        </div>
      </form>
    </Sheet>
  );
}
