import { say } from '@fiche/core/languages';
import type { Choice } from '@fiche/core/narrowing';
import ArrowIcon from '@mui/icons-material/ArrowDropDown';
import { useRef } from 'react';
import { FieldInput, isShortcut, useSearchBox } from '../parts/index.ts';
import { ChoiceList, highlighted, preloadChoiceList } from './ChoiceList.tsx';
import dropdownCss from './dropdown.module.css';
import type { InputProps } from './input.ts';
import { moveOn } from './moveOn.ts';
import { connected } from './TextInput.tsx';
import { useAskAgain, useChoosing } from './useChoosing.ts';

/**
 * A dropdown after the combobox pattern of the ARIA Authoring Practices: type to search, arrows and Enter to choose;
 * leaving it with text takes the highlighted choice. Choices are asked for as it is opened and typed in.
 */
export function Dropdown({ offered, ...props }: InputProps & { readonly offered?: readonly Choice[] }) {
  const { field, choices, waiting } = props;
  const input = useRef<HTMLInputElement>(null);
  const choosing = useChoosing(props, offered, input);
  const { text, searching, found, early } = choosing;
  const { rootProps, inputProps, listProps, optionProps, anchor, popupOpen } = useSearchBox<Choice, false, false>({
    id: props.id,
    found,
    labelOf: (one) => one.title,
    keyOf: (one) => one.value,
    value: choosing.current,
    inputValue: text,
    clearOnBlur: false,
    handleHomeEndKeys: true,
    includeInputInList: true,
    onOpen: choosing.askForChoices,
    onChange: (event, choice) => {
      choosing.choose(choice);
      // Enter takes the choice and goes on: the commonest step of a day.
      if ((event as React.KeyboardEvent).key === 'Enter' && input.current) moveOn(input.current);
    },
    onInputChange: (_event, typed, reason) => {
      if (reason === 'input') choosing.type(typed, popupOpen);
    },
  });
  useAskAgain(props, choosing, popupOpen);
  const onKeyDown = (event: React.KeyboardEvent<HTMLInputElement>): void => {
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
        placeholder={say('choose one')}
        onKeyDown={onKeyDown}
        onBlur={(event) => {
          inputProps.onBlur?.(event);
          choosing.leave();
        }}
      />
      <ArrowIcon className={dropdownCss.arrow} aria-hidden="true" />
      {popupOpen && (
        <ChoiceList
          label={field.label}
          anchor={anchor}
          list={listProps}
          found={found}
          empty={waiting ? say('Fetching…') : emptyWords(props.emptyWords, text, searching)}
          onWhy={choosing.isOwn ? undefined : props.onWhy}
          onAdd={props.onAdd && (() => props.onAdd?.(searching ? text : ''))}
          more={choices?.more}
          optionProps={optionProps}
        />
      )}
    </div>
  );
}

function emptyWords(why: string | undefined, text: string, searching: boolean): string {
  if (searching && text.trim() !== '') return say('Nothing here is called “{text}”.', { text: text.trim() });
  return why ?? say('There is nothing to choose yet.');
}
