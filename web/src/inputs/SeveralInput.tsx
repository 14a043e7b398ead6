import { itemsOf } from '@fiche/core/fields';
import { say, sayOwn } from '@fiche/core/languages';
import type { Choice } from '@fiche/core/narrowing';
import CloseIcon from '@mui/icons-material/Close';
import Chip from '@mui/material/Chip';
import IconButton from '@mui/material/IconButton';
import { clsx } from 'clsx';
import { useEffect, useState } from 'react';
import { FieldInput, useSearchBox } from '../parts/index.ts';
import { ChoiceList, highlighted, preloadChoiceList } from './ChoiceList.tsx';
import dropdownCss from './dropdown.module.css';
import type { InputProps } from './input.ts';
import { connected } from './TextInput.tsx';

const NONE: readonly Choice[] = [];

const titled = (title: string, value: Choice['value']): Choice => ({ value, title, facts: {}, shown: [] });

/** The choices that are not chosen yet and in which every word stands somewhere, as where one choice is found. */
const findMore = (offers: readonly Choice[], chosen: readonly Choice[], words: string): Choice[] =>
  offers.filter(
    (one) =>
      !chosen.some((taken) => taken.value === one.value) &&
      words.split(/\s+/).every((word) => [one.title, ...one.shown].some((shown) => shown.toLowerCase().includes(word))),
  );

/**
 * Several choices or links after the combobox pattern: what is chosen stands before the text, Backspace takes the last
 * one back, Enter takes the highlighted one, and the list stays open for the next.
 */
export default function SeveralInput(props: InputProps) {
  const { field, value, linked, choices, waiting, onChanged, onOpened, onLeft } = props;
  const own = field.source ? undefined : (field.field.settings.choices as string[] | undefined);
  const offers: readonly Choice[] = own ? own.map((word) => titled(sayOwn(word), word)) : (choices?.choices ?? NONE);
  const [text, setText] = useState('');
  const chosen = itemsOf(value).map((item) =>
    titled(typeof item === 'string' ? sayOwn(item) : (linked?.titles?.[String(item)] ?? `#${item}`), item),
  );
  const words = text.toLowerCase().trim();
  const found = findMore(offers, chosen, words);
  const change = (next: readonly Choice[]): void => {
    setText('');
    const items = next.map((one) => one.value);
    const list = items.length === 0 ? null : (items as string[] | number[]);
    const named = Object.fromEntries(next.map((one) => [String(one.value), one.title]));
    onChanged(list, own ? undefined : { title: next.map((one) => one.title).join(', '), facts: {}, titles: named });
  };
  const { rootProps, inputProps, listProps, optionProps, anchor, popupOpen } = useSearchBox<Choice, true, true>({
    id: props.id,
    multiple: true,
    disableClearable: true,
    disableCloseOnSelect: true,
    found,
    labelOf: (one) => one.title,
    keyOf: (one) => one.value,
    value: chosen,
    inputValue: text,
    onOpen: () => {
      if (!own) onOpened('');
    },
    onChange: (_event, next) => change(next),
    onInputChange: (_event, typed, reason) => {
      if (reason !== 'input') return;
      setText(typed);
      if (!own) onOpened(typed);
    },
  });
  // Enter on text whose choices have not arrived yet takes the first of them when they do.
  const [early, setEarly] = useState(false);
  useEffect(() => {
    if (!early || waiting || (!own && !choices)) return;
    setEarly(false);
    if (found[0]) change([...chosen, found[0]]);
  });
  return (
    <div data-dropdown data-several className={clsx(dropdownCss.dropdown, dropdownCss.several)} {...rootProps}>
      <Chosen some={chosen} onChange={change} />
      <FieldInput
        {...inputProps}
        {...connected(props)}
        onFocus={(event) => {
          preloadChoiceList();
          inputProps.onFocus?.(event);
        }}
        placeholder={chosen.length === 0 ? 'choose' : ''}
        onKeyDown={(event) => {
          // The first choice is meant also in the moment before it is highlighted, or has arrived.
          const lit = highlighted(event.currentTarget, found) !== undefined;
          if (event.key === 'Enter' && !lit && words !== '' && (found[0] || waiting || !choices)) {
            if (found[0]) change([...chosen, found[0]]);
            else setEarly(true);
            event.preventDefault();
            event.stopPropagation();
          } else if (event.key !== 'Enter' || lit) inputProps.onKeyDown?.(event);
        }}
        onBlur={(event) => {
          inputProps.onBlur?.(event);
          setEarly(false);
          setText('');
          onLeft();
        }}
      />
      {popupOpen && (
        <ChoiceList
          label={field.label}
          anchor={anchor}
          list={listProps}
          found={found}
          empty={
            waiting
              ? say('Fetching…')
              : words
                ? say('Nothing else here is called “{text}”.', { text: text.trim() })
                : (props.emptyWords ?? say('Nothing else to choose.'))
          }
          onWhy={own ? undefined : props.onWhy}
          more={choices?.more}
          optionProps={optionProps}
        />
      )}
    </div>
  );
}

/** What is chosen, each with its way out. */
function Chosen({ some, onChange }: { some: readonly Choice[]; onChange(next: readonly Choice[]): void }) {
  return some.map((one) => (
    <Chip
      key={one.value}
      label={
        <>
          {one.title}
          <IconButton
            aria-label={say('Remove {what}', { what: one.title })}
            tabIndex={-1}
            onClick={() => onChange(some.filter((other) => other.value !== one.value))}
          >
            <CloseIcon fontSize="small" />
          </IconButton>
        </>
      }
    />
  ));
}
