import { type Choice, choiceMeant, choicesFound } from '@fiche/core/narrowing';
import ArrowIcon from '@mui/icons-material/ArrowDropDown';
import { useEffect, useRef, useState } from 'react';
import { FieldInput, isShortcut, useSearchBox } from '../parts/index.ts';
import { ChoiceList, highlighted, preloadChoiceList } from './ChoiceList.tsx';
import dropdownCss from './dropdown.module.css';
import type { InputProps } from './input.ts';
import { moveOn } from './moveOn.ts';
import { connected } from './TextInput.tsx';

const NONE: readonly Choice[] = [];

const titled = (title: string, value: Choice['value']): Choice => ({ value, title, facts: {}, shown: [] });

/**
 * A dropdown after the combobox pattern of the ARIA Authoring Practices: type to search, arrows and Enter to choose;
 * leaving it with text takes the highlighted choice. Choices are asked for as it is opened and typed in.
 */
export function Dropdown({ offered, ...props }: InputProps & { readonly offered?: readonly Choice[] }) {
  const { field, value, linked, choices, waiting, unread, onChanged, onOpened, onLeft } = props;
  const words = field.source ? undefined : (field.field.settings.choices as string[] | undefined);
  // What stands with the field itself; other choices are asked for.
  const own = offered ?? words?.map((word) => titled(word, word));
  const offers: readonly Choice[] = own ?? choices?.choices ?? NONE;
  const title = value === null ? '' : (linked?.title ?? (typeof value === 'string' ? value : '…'));
  const current = typeof value === 'string' || typeof value === 'number' ? titled(title, value) : null;
  const [text, setText] = useState(unread ?? title);
  const [searching, setSearching] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  // What is searched for: opening and typing both ask for choices, with the newest text.
  const searched = useRef('');

  const shownTitle = unread ?? title;
  const [lastTitle, setLastTitle] = useState(shownTitle);
  if (shownTitle !== lastTitle) {
    setLastTitle(shownTitle);
    if (document.activeElement !== input.current || !searching) setText(shownTitle);
  }

  const choose = (choice: Choice | null): void => {
    setSearching(false);
    searched.current = '';
    setText(choice?.title ?? '');
    if (choice === null) onChanged(null);
    else
      onChanged(
        choice.value,
        field.source?.column === undefined && !own ? { title: choice.title, facts: choice.facts } : undefined,
      );
  };

  const settleText = (typed: string): void => {
    const meant = choiceMeant(offers, typed, true);
    if (!own && (waiting || !choices)) props.onTextMatched(typed);
    else if (meant) choose(meant);
    else props.onUnmatched(typed);
  };

  const found = searching && text !== title ? choicesFound(offers, text) : [...offers];
  const { rootProps, inputProps, listProps, optionProps, anchor, popupOpen } = useSearchBox<Choice, false, false>({
    id: props.id,
    found,
    labelOf: (one) => one.title,
    keyOf: (one) => one.value,
    value: current,
    inputValue: text,
    clearOnBlur: false,
    handleHomeEndKeys: true,
    includeInputInList: true,
    onOpen: () => {
      if (!own) onOpened(searched.current);
    },
    onChange: (event, choice) => {
      choose(choice);
      // Enter takes the choice and goes on: the commonest step of a day.
      if ((event as React.KeyboardEvent).key === 'Enter' && input.current) moveOn(input.current);
    },
    onInputChange: (_event, typed, reason) => {
      if (reason !== 'input') return;
      setText(typed);
      setSearching(true);
      searched.current = typed;
      // The first letter opens the list, which asks by itself.
      if (!own && popupOpen) onOpened(typed);
    },
  });
  // What narrows the list changed while it was open: its choices are others now, and are asked for once more.
  const askedAgain = useRef<string>(undefined);
  useEffect(() => {
    if (choices) askedAgain.current = undefined;
    else if (popupOpen && !own && !waiting && askedAgain.current !== searched.current) {
      askedAgain.current = searched.current;
      onOpened(searched.current);
    }
  });
  // Of a list that goes on, what was typed may mean a choice that is still on its way.
  const early = searching && waiting && choices?.more === true;
  const leave = (): void => {
    if (searching) {
      setSearching(false);
      searched.current = '';
      if (text.trim() === '') choose(null);
      else if (text !== title) settleText(text);
    }
    onLeft();
  };
  return (
    <div data-dropdown className={dropdownCss.dropdown} {...rootProps}>
      <FieldInput
        {...inputProps}
        {...connected(props)}
        onFocus={(event) => {
          preloadChoiceList();
          inputProps.onFocus?.(event);
        }}
        inputRef={(node) => {
          input.current = node;
          const { ref } = inputProps as { ref: React.Ref<HTMLInputElement> };
          if (typeof ref === 'function') ref(node);
          else if (ref) (ref as React.RefObject<HTMLInputElement | null>).current = node;
        }}
        placeholder="choose one"
        onKeyDown={(event) => {
          if (props.onAdd && isShortcut(event, 'addChoice')) {
            event.preventDefault();
            props.onAdd(searching ? text : '');
            return;
          }
          const lit = !early && highlighted(event.currentTarget, found) !== undefined;
          if (event.key !== 'Enter' || lit) inputProps.onKeyDown?.(event);
          // What was typed is taken by leaving it; Enter never sends a form that still has to find it.
          else if (searching && text.trim() !== '' && !event.ctrlKey && !event.altKey) {
            event.preventDefault();
            moveOn(event.currentTarget);
          }
        }}
        onBlur={(event) => {
          inputProps.onBlur?.(event);
          leave();
        }}
      />
      <ArrowIcon className={dropdownCss.arrow} aria-hidden="true" />
      {popupOpen && (
        <ChoiceList
          label={field.label}
          anchor={anchor}
          list={listProps}
          found={found}
          empty={waiting ? 'Fetching…' : emptyWords(props.emptyWords, text, searching)}
          onWhy={own ? undefined : props.onWhy}
          onAdd={props.onAdd && (() => props.onAdd?.(searching ? text : ''))}
          more={choices?.more}
          optionProps={optionProps}
        />
      )}
    </div>
  );
}

function emptyWords(why: string | undefined, text: string, searching: boolean): string {
  if (searching && text.trim() !== '') return `Nothing here is called “${text.trim()}”.`;
  return why ?? 'There is nothing to choose yet.';
}
