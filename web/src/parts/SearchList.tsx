import { say } from '@fiche/core/languages';
import { type KeyboardEvent, useEffect, useId, useRef, useState } from 'react';
import { FieldInput } from './FieldInput.tsx';
import pickerCss from './picker.module.css';

export interface SlotOption {
  readonly value: string;
  readonly label: string;
  readonly detail?: string;
}

interface SearchListProps {
  /** What is chosen here, for a screen reader. */
  readonly label: string;
  readonly placeholder?: string;
  /** What can be chosen; a function decides by itself which options fit the text typed so far. */
  readonly options: readonly SlotOption[] | ((text: string) => readonly SlotOption[]);
  /** The value that is chosen now. */
  readonly current?: string;
  /** Further options for the text typed so far, below those that match. */
  typed?(text: string): readonly SlotOption[] | Promise<readonly SlotOption[]>;
  /** Hears each change of the text. */
  onSearch?(text: string): void;
  onPick(value: string): void;
}

const matching = (options: readonly SlotOption[], text: string): readonly SlotOption[] => {
  const words = text.toLowerCase().split(/\s+/);
  return options.filter((one) =>
    words.every((word) => `${one.label} ${one.detail ?? ''}`.toLowerCase().includes(word)),
  );
};

/**
 * A list with a search field above it, as the content of a popup: a combobox whose list is always open (ARIA APG). Arrow
 * keys move, Enter picks the marked option.
 */
export function SearchList({ label, placeholder, options, current, typed, onSearch, onPick }: SearchListProps) {
  const [search, setSearch] = useState('');
  const [further, setFurther] = useState<readonly SlotOption[]>([]);
  // The options are asked for when the text changes, not when what surrounds the list is drawn anew.
  // biome-ignore lint/correctness/useExhaustiveDependencies: see above.
  useEffect(() => {
    let stale = false;
    void Promise.resolve(typed?.(search.trim()) ?? []).then((found) => !stale && setFurther(found));
    return () => {
      stale = true;
    };
  }, [search]);
  const text = search.trim();
  const shown = [...(typeof options === 'function' ? options(text) : matching(options, text)), ...further];
  const [active, setActive] = useState(() =>
    Math.max(
      0,
      shown.findIndex((one) => one.value === current),
    ),
  );
  const at = Math.min(active, shown.length - 1);
  const list = useRef<HTMLUListElement>(null);
  const id = useId();
  useEffect(() => {
    list.current?.children[at]?.scrollIntoView({ block: 'nearest' });
  }, [at]);
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown') setActive(Math.min(at + 1, shown.length - 1));
    else if (event.key === 'ArrowUp') setActive(Math.max(at - 1, 0));
    else if (event.key === 'Enter' && shown[at]) onPick(shown[at].value);
    else return;
    event.preventDefault();
  };
  return (
    <>
      <FieldInput
        autoFocus
        role="combobox"
        aria-expanded="true"
        aria-controls={id}
        aria-label={label}
        aria-activedescendant={shown[at] ? `${id}-${at}` : undefined}
        placeholder={placeholder ?? (typed ? say('Type to find, or write a value') : say('Type to find'))}
        value={search}
        onKeyDown={onKeyDown}
        onChange={(event) => {
          setSearch(event.target.value);
          setActive(0);
          onSearch?.(event.target.value);
        }}
      />
      <ul ref={list} id={id} role="listbox" aria-label={label}>
        {shown.map((one, n) => (
          <li
            key={one.value}
            id={`${id}-${n}`}
            role="option"
            aria-selected={one.value === current}
            className={n === at ? pickerCss.active : undefined}
            onMouseMove={() => setActive(n)}
            onClick={() => onPick(one.value)}
          >
            {one.label}
            {one.detail && <small>{one.detail}</small>}
          </li>
        ))}
      </ul>
      {shown.length === 0 && <div className={pickerCss.hint}>{say('No match.')}</div>}
    </>
  );
}
