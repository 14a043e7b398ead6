import SearchIcon from '@mui/icons-material/Search';
import InputAdornment from '@mui/material/InputAdornment';
import TextField from '@mui/material/TextField';

/** Finds in the list below as one types. */
export function FindInput({ label, value, onChange }: { label: string; value: string; onChange(text: string): void }) {
  return (
    <TextField
      className="find-input"
      type="search"
      placeholder="Find"
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
