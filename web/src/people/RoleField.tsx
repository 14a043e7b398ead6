import { SelectField } from '../parts/index.ts';
import type { GivableRole } from './usePeople.ts';

/** The rights of a role as people read them. */
const RIGHT_WORDS: Readonly<Record<string, string>> = {
  see: 'see records',
  add: 'add',
  change: 'change',
  archive: 'archive',
  history: 'read histories',
  ledger: 'read the ledger',
  build: 'build tables and forms',
  people: 'manage people',
  erase: 'erase for good',
};

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
      label="Role in this cabinet"
      value={value}
      disabled={disabled}
      problem={problem}
      help={rights.length > 0 ? `May ${rights.map((right) => RIGHT_WORDS[right] ?? right).join(', ')}.` : undefined}
      options={[
        ...(value === '' ? [{ value: '', label: 'choose a role' }] : []),
        ...roles.map((one) => ({
          value: one.id,
          label: one.mayGive ? one.label : `${one.label} (allows more than you may)`,
          disabled: !one.mayGive,
        })),
      ]}
      onChange={onChange}
    />
  );
}
