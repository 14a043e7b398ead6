import { say } from '@fiche/core/languages';
import { CABINET_RIGHTS, HISTORIES, HISTORY_WORDS, RIGHT_LABELS, type RoleDefinition } from '@fiche/core/rights';
import TextField from '@mui/material/TextField';
import { useOffice } from '../client/index.ts';
import { CheckField, SelectField, textCss } from '../parts/index.ts';
import { toggled } from './roleDraft.ts';
import rolePageCss from './rolePage.module.css';

interface RoleSettingsProps {
  readonly role: RoleDefinition;
  readonly problem?: string;
  onChange(role: RoleDefinition): void;
}

/** What a role allows besides the records of tables: the cabinet as a whole, change histories, forms. */
export function RoleSettings({ role, problem, onChange }: RoleSettingsProps) {
  const { cabinet } = useOffice();
  const forms = cabinet.forms.filter((one) => !one.archived);
  const builds = role.rights.includes('build');
  return (
    <div className={rolePageCss.settings}>
      <div className={rolePageCss.column}>
        <TextField
          label={say('Name')}
          value={role.label}
          error={problem !== undefined}
          helperText={problem}
          onChange={(event) => onChange({ ...role, label: event.target.value })}
        />
        <SelectField
          label={say('Reads the change history of')}
          value={role.history}
          options={HISTORIES.map((value) => ({ value, label: say(HISTORY_WORDS[value]) }))}
          onChange={(history) => onChange({ ...role, history: history as RoleDefinition['history'] })}
        />
      </div>
      <div role="group" aria-label={say('Cabinet')} className={rolePageCss.checks}>
        <h2>{say('Cabinet')}</h2>
        {CABINET_RIGHTS.map((right) => (
          <CheckField
            key={right}
            label={say(RIGHT_LABELS[right])}
            checked={role.rights.includes(right)}
            onChange={(on) => onChange({ ...role, rights: toggled(role.rights, right, on, CABINET_RIGHTS) })}
          />
        ))}
        <CheckField
          label={say('Works with a second factor only')}
          checked={role.secondFactor}
          onChange={(secondFactor) => onChange({ ...role, secondFactor })}
        />
      </div>
      <div role="group" aria-label={say('Forms')} className={rolePageCss.checks}>
        <h2>{say('Forms')}</h2>
        {forms.length === 0 && <p className={textCss.faded}>{say('There are no forms yet.')}</p>}
        {forms.map((form) => (
          <CheckField
            key={form.id}
            label={form.label}
            checked={builds || !role.closedForms.includes(form.id)}
            disabled={builds}
            onChange={(on) =>
              onChange({
                ...role,
                closedForms: toggled(
                  role.closedForms,
                  form.id,
                  !on,
                  cabinet.forms.map((one) => one.id),
                ),
              })
            }
          />
        ))}
      </div>
    </div>
  );
}
