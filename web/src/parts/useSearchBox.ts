import useAutocomplete, { type UseAutocompleteProps } from '@mui/material/useAutocomplete';
import { type HTMLAttributes, type Key, useState } from 'react';

type Given = 'options' | 'filterOptions' | 'getOptionLabel' | 'getOptionKey' | 'isOptionEqualToValue' | 'autoHighlight';

interface SearchBoxProps<T, Multiple extends boolean, NeverBlank extends boolean>
  extends Omit<UseAutocompleteProps<T, Multiple, NeverBlank, false>, Given> {
  /** What the list shows now, in its order: it was searched already. */
  readonly found: readonly T[];
  labelOf(one: T): string;
  keyOf(one: T): string | number;
}

/**
 * A combobox over a list that its owner searches, under MUI’s `useAutocomplete`: the first of the list is highlighted, and
 * the same key is the same choice. Gives the props of the parts; the owner draws them.
 */
export function useSearchBox<T, Multiple extends boolean, NeverBlank extends boolean>({
  found,
  labelOf,
  keyOf,
  ...box
}: SearchBoxProps<T, Multiple, NeverBlank>) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { getRootProps, getInputProps, getListboxProps, getOptionProps, groupedOptions, popupOpen } = useAutocomplete<
    T,
    Multiple,
    NeverBlank,
    false
  >({
    ...box,
    options: [...found],
    filterOptions: (all) => all,
    getOptionLabel: labelOf,
    getOptionKey: keyOf,
    isOptionEqualToValue: (a, b) => keyOf(a) === keyOf(b),
    autoHighlight: true,
  });
  return {
    popupOpen,
    anchor,
    /** The options as they stand in the list now. */
    shown: groupedOptions as T[],
    rootProps: { ...getRootProps(), ref: setAnchor, 'aria-owns': undefined },
    inputProps: getInputProps(),
    listProps: getListboxProps(),
    optionProps: (option: T, index: number) =>
      getOptionProps({ option, index }) as HTMLAttributes<HTMLLIElement> & { key: Key },
  };
}
