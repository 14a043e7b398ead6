import { say } from '@fiche/core/languages';
import type { Choice } from '@fiche/core/narrowing';
import Button from '@mui/material/Button';
import Popper from '@mui/material/Popper';
import type { HTMLAttributes, Key } from 'react';
import { choicesCss } from '../parts/index.ts';

export interface ChoiceOptionsProps {
  readonly label: string;
  /** The field that the list belongs to: it opens below it, or above where there is no room. */
  readonly anchor: HTMLElement | null;
  readonly list: HTMLAttributes<HTMLUListElement>;
  readonly found: readonly Choice[];
  /** What a list without choices says. */
  readonly empty: string;
  readonly more?: boolean;
  onWhy?(): void;
  onAdd?(): void;
  optionProps(option: Choice, index: number): HTMLAttributes<HTMLLIElement> & { key: Key };
}

/** The open list of a dropdown: each choice with its further columns, or why there is none. */
export default function ChoiceOptions({
  label,
  anchor,
  list,
  found,
  empty,
  more,
  onWhy,
  onAdd,
  optionProps,
}: ChoiceOptionsProps) {
  const note = (words: string) => (
    <li className={choicesCss.note} role="option" aria-selected="false" aria-disabled="true">
      {words}
    </li>
  );
  return (
    <Popper
      open
      anchorEl={anchor}
      placement="bottom-start"
      className={choicesCss.choices}
      modifiers={[
        { name: 'flip', enabled: true },
        { name: 'offset', options: { offset: [-8, 3] } },
        { name: 'preventOverflow', options: { padding: 4 } },
      ]}
      style={{ minWidth: (anchor?.clientWidth ?? 0) + 16 }}
      // Whatever is pressed here, the field keeps the focus.
      onMouseDown={(event) => event.preventDefault()}
    >
      <ul {...list} aria-label={label}>
        {found.map((one, index) => {
          const { key, ...option } = optionProps(one, index);
          return (
            <li key={key} {...option}>
              <span>{one.title}</span>
              {one.shown.length > 0 && (
                <span className={choicesCss.columns}>{one.shown.filter((shown) => shown !== '').join(' · ')}</span>
              )}
            </li>
          );
        })}
        {found.length === 0 && note(empty)}
        {more && note(say('More than these: type to find the others.'))}
      </ul>
      {onAdd && (
        <Button
          className={choicesCss.why}
          tabIndex={-1}
          onMouseDown={(event) => event.preventDefault()}
          onClick={onAdd}
        >
          {say('Add a new choice')} <kbd>Alt+A</kbd>
        </Button>
      )}
      {onWhy && (
        // The field keeps the cursor: the list closes when it is left.
        <Button
          className={choicesCss.why}
          tabIndex={-1}
          onMouseDown={(event) => event.preventDefault()}
          onClick={onWhy}
        >
          {say('Why these choices?')} <kbd>Alt+W</kbd>
        </Button>
      )}
    </Popper>
  );
}
