import { say } from '@fiche/core/languages';
import { SelectField } from '../parts/index.ts';
import { rightsWords } from './rightsWords.ts';
import type { GivableRole } from './usePeople.ts';

interface RoleFieldProps {
  readonly id?: string;
  readonly roles: readonly GivableRole[];
  readonly value: string;
  readonly problem?: string;
  readonly disabled?: boolean;
  onChange(role: string): void;
}

/** The role of somebody in this cabinet, with what it allows. */
export function RoleField({ id, roles, value, problem, disabled, onChange }: RoleFieldProps) {
  const rights = roles.find((one) => one.id === value)?.rights ?? [];
  return (
    <SelectField
      id={id}
      label={say('Role in this cabinet')}
      value={value}
      disabled={disabled}
      problem={problem}
      help={rights.length > 0 ? say('May {rights}.', { rights: rightsWords(rights) }) : undefined}
      options={[
        ...(value === '' ? [{ value: '', label: say('choose a role') }] : []),
        ...roles.map((one) => ({
          value: one.id,
          label: one.mayGive ? one.label : say('{label} (allows more than you may)', { label: one.label }),
          disabled: !one.mayGive,
        })),
      ]}
      onChange={onChange}
    />
  );
}
