import { say } from '@fiche/core/languages';
import Autocomplete from '@mui/material/Autocomplete';
import InputBase from '@mui/material/InputBase';
import { describedBy, RuledField } from './RuledField.tsx';

export interface PickOption {
  readonly value: string;
  readonly label: string;
  /** Further words that typing finds it by. */
  readonly also?: string;
}

interface PickFieldProps {
  readonly id: string;
  readonly label: string;
  readonly help?: string;
  readonly problem?: string;
  readonly required?: boolean;
  readonly disabled?: boolean;
  readonly options: readonly PickOption[];
  readonly value: string;
  onPick(value: string): void;
}

const bare = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase();

/** A ruled field whose value is one of a list that is searched by typing: a MUI Autocomplete. */
export function PickField({ id, options, value, onPick, disabled, ...field }: PickFieldProps) {
  const current = options.find((one) => one.value === value) ?? { value, label: value };
  return (
    <RuledField id={id} readOnly={disabled} {...field}>
      <Autocomplete
        id={id}
        className="pick-field"
        options={[...options]}
        value={current}
        disabled={disabled}
        disableClearable
        openOnFocus
        autoHighlight
        handleHomeEndKeys
        isOptionEqualToValue={(one, other) => one.value === other.value}
        filterOptions={(all, { inputValue }) => {
          const words = bare(inputValue === current.label ? '' : inputValue).split(/\s+/);
          return all.filter((one) => words.every((word) => bare(`${one.label} ${one.also ?? ''}`).includes(word)));
        }}
        noOptionsText={say('Nothing is called so.')}
        onChange={(_event, next) => onPick(next.value)}
        renderInput={({ slotProps: { input, htmlInput } }) => (
          <InputBase
            ref={input.ref}
            className={input.className}
            fullWidth
            endAdornment={input.endAdornment}
            onMouseDown={input.onMouseDown}
            slotProps={{ input: { ...htmlInput, 'aria-describedby': describedBy(id) } }}
          />
        )}
      />
    </RuledField>
  );
}
