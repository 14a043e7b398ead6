import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';

/** A yes or no of a setting, with its words beside it. */
export function CheckField({
  label,
  checked,
  disabled,
  onChange,
}: {
  label: string;
  checked: boolean;
  disabled?: boolean;
  onChange(checked: boolean): void;
}) {
  return (
    <FormControlLabel
      label={label}
      disabled={disabled}
      control={<Checkbox checked={checked} onChange={(event) => onChange(event.target.checked)} />}
    />
  );
}
