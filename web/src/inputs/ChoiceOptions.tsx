import type { Choice } from '@fiche/core/narrowing';
import type { HTMLAttributes, Key } from 'react';

interface Props {
  readonly label: string;
  readonly list: HTMLAttributes<HTMLUListElement>;
  readonly found: readonly Choice[];
  /** What a list without choices says. */
  readonly empty: string;
  readonly more?: boolean;
  onWhy?(): void;
  onAdd?(): void;
  optionProps(option: Choice, index: number): HTMLAttributes<HTMLLIElement> & { key: Key };
}

/** The choice that is highlighted in a list; undefined where the highlight still stands on a list of a moment ago. */
export const highlighted = (input: Element, found: readonly Choice[]): Choice | undefined =>
  found[Number(/-option-(\d+)$/.exec(input.getAttribute('aria-activedescendant') ?? '')?.[1] ?? -1)];

/** The open list of a dropdown: each choice with its further columns, or why there is none. */
export function ChoiceOptions({ label, list, found, empty, more, onWhy, onAdd, optionProps }: Props) {
  const note = (words: string) => (
    <li className="choices-note" role="option" aria-selected="false" aria-disabled="true">
      {words}
    </li>
  );
  return (
    <div className="choices">
      <ul {...list} aria-label={label}>
        {found.map((one, index) => {
          const { key, ...option } = optionProps(one, index);
          return (
            <li key={key} {...option}>
              <span>{one.title}</span>
              {one.shown.length > 0 && (
                <span className="shown-columns">{one.shown.filter((shown) => shown !== '').join(' · ')}</span>
              )}
            </li>
          );
        })}
        {found.length === 0 && note(empty)}
        {more && note('More than these: type to find the others.')}
      </ul>
      {onAdd && (
        <button
          type="button"
          className="choices-why"
          tabIndex={-1}
          onMouseDown={(event) => event.preventDefault()}
          onClick={onAdd}
        >
          Add a new one <kbd>Alt+A</kbd>
        </button>
      )}
      {onWhy && (
        // The field keeps the cursor: the list closes when it is left.
        <button
          type="button"
          className="choices-why"
          tabIndex={-1}
          onMouseDown={(event) => event.preventDefault()}
          onClick={onWhy}
        >
          Why these choices? <kbd>Alt+W</kbd>
        </button>
      )}
    </div>
  );
}
