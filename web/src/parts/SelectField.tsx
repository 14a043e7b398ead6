import FormControl from '@mui/material/FormControl';
import FormHelperText from '@mui/material/FormHelperText';
import InputLabel from '@mui/material/InputLabel';
import NativeSelect from '@mui/material/NativeSelect';
import { useId } from 'react';

export interface SelectOption {
  readonly value: string;
  readonly label: string;
  readonly disabled?: boolean;
  /** Options of one group stand together under its name. */
  readonly group?: string;
}

interface SelectFieldProps {
  readonly id?: string;
  readonly label: string;
  readonly value: string;
  readonly options: readonly SelectOption[];
  readonly help?: string;
  readonly problem?: string;
  readonly disabled?: boolean;
  readonly autoFocus?: boolean;
  readonly className?: string;
  /** The label is for screen readers only: the words around say it. */
  readonly hiddenLabel?: boolean;
  onChange(value: string): void;
}

/** One of a short list: MUI’s field with the system’s own list, which phones and keyboards know best. */
export function SelectField({
  id: given,
  label,
  value,
  options,
  help,
  problem,
  disabled,
  autoFocus,
  className,
  hiddenLabel,
  onChange,
}: SelectFieldProps) {
  const own = useId();
  const id = given ?? own;
  const said = problem ?? help;
  const groups = [...new Set(options.map((one) => one.group))];
  const shown = (group: string | undefined) =>
    options
      .filter((one) => one.group === group)
      .map((one) => (
        <option key={one.value} value={one.value} disabled={one.disabled}>
          {one.label}
        </option>
      ));
  return (
    <FormControl className={className} disabled={disabled} error={problem !== undefined}>
      {!hiddenLabel && <InputLabel htmlFor={id}>{label}</InputLabel>}
      <NativeSelect
        autoFocus={autoFocus}
        value={value}
        onChange={(event) => onChange(event.target.value)}
        inputProps={{
          id,
          'aria-label': hiddenLabel ? label : undefined,
          'aria-describedby': said ? `${id}-said` : undefined,
        }}
      >
        {groups.map((group) =>
          group === undefined ? (
            shown(group)
          ) : (
            <optgroup key={group} label={group}>
              {shown(group)}
            </optgroup>
          ),
        )}
      </NativeSelect>
      {said && <FormHelperText id={`${id}-said`}>{said}</FormHelperText>}
    </FormControl>
  );
}
