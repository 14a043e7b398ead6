import { say } from '@fiche/core/languages';
import SearchIcon from '@mui/icons-material/Search';
import InputAdornment from '@mui/material/InputAdornment';
import TextField from '@mui/material/TextField';

interface FindProps {
  readonly label: string;
  readonly value: string;
  readonly placeholder?: string;
  onChange(text: string): void;
}

/** Finds in the list below as one types. */
export function FindInput({ label, value, placeholder = say('Find'), onChange }: FindProps) {
  return (
    <TextField
      className="find-input"
      type="search"
      placeholder={placeholder}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{
        htmlInput: { 'aria-label': label },
        input: {
          startAdornment: (
            <InputAdornment position="start">
              <SearchIcon fontSize="small" />
            </InputAdornment>
          ),
        },
      }}
    />
  );
}
