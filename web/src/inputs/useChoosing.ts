import { sayOwn } from '@fiche/core/languages';
import { type Choice, choiceMeant, choicesFound } from '@fiche/core/narrowing';
import { type RefObject, useEffect, useRef, useState } from 'react';
import type { InputProps } from './input.ts';

const NONE: readonly Choice[] = [];

const titled = (title: string, value: Choice['value']): Choice => ({ value, title, facts: {}, shown: [] });

/**
 * What a dropdown shows and does: the text in its input, the choices that it finds, and what becomes of the text when the
 * dropdown is left. `offered` stands with the field itself; other choices are asked for by `askForChoices`.
 */
export function useChoosing(
  props: InputProps,
  offered: readonly Choice[] | undefined,
  input: RefObject<HTMLInputElement | null>,
) {
  const { field, value, linked, choices, waiting, unread, onChanged, onOpened, onLeft } = props;
  const words = field.source ? undefined : (field.field.settings.choices as string[] | undefined);
  const own = offered ?? words?.map((word) => titled(sayOwn(word), word));
  const offers: readonly Choice[] = own ?? choices?.choices ?? NONE;
  const title = value === null ? '' : (linked?.title ?? (typeof value === 'string' ? sayOwn(value) : '…'));
  const current = typeof value === 'string' || typeof value === 'number' ? titled(title, value) : null;
  const [text, setText] = useState(unread ?? title);
  const [searching, setSearching] = useState(false);
  // What is searched for: opening and typing both ask for choices, with the newest text.
  const searched = useRef('');

  const shownTitle = unread ?? title;
  const [lastTitle, setLastTitle] = useState(shownTitle);
  if (shownTitle !== lastTitle) {
    setLastTitle(shownTitle);
    if (document.activeElement !== input.current || !searching) setText(shownTitle);
  }

  const stop = (): void => {
    setSearching(false);
    searched.current = '';
  };
  const choose = (choice: Choice | null): void => {
    stop();
    setText(choice?.title ?? '');
    const isRecord = field.source?.column === undefined && !own;
    if (choice === null) onChanged(null);
    else onChanged(choice.value, isRecord ? { title: choice.title, facts: choice.facts } : undefined);
  };
  const askForChoices = (): void => {
    if (!own) onOpened(searched.current);
  };
  const type = (typed: string, isOpen: boolean): void => {
    setText(typed);
    setSearching(true);
    searched.current = typed;
    // The first letter opens the list, which asks by itself.
    if (isOpen) askForChoices();
  };
  const leave = (): void => {
    if (searching) {
      stop();
      if (text.trim() === '') choose(null);
      else if (text !== title) matchText(text);
    }
    onLeft();
  };
  const matchText = (typed: string): void => {
    const meant = choiceMeant(offers, typed, true);
    if (!own && (waiting || !choices)) props.onTextMatched(typed);
    else if (meant) choose(meant);
    else props.onUnmatched(typed);
  };
  return {
    text,
    searching,
    current,
    isOwn: own !== undefined,
    found: searching && text !== title ? choicesFound(offers, text) : [...offers],
    /** Of a list that goes on, what was typed may mean a choice that is still on its way. */
    early: searching && waiting && choices?.more === true,
    searched,
    choose,
    askForChoices,
    type,
    leave,
  };
}

/** Asks once more for the choices of an open list when what narrows it has changed: they are others now. */
export function useAskAgain(
  { choices, waiting }: InputProps,
  { isOwn, searched, askForChoices }: Pick<ReturnType<typeof useChoosing>, 'isOwn' | 'searched' | 'askForChoices'>,
  isOpen: boolean,
): void {
  const askedAgain = useRef<string>(undefined);
  useEffect(() => {
    if (choices) askedAgain.current = undefined;
    else if (isOpen && !isOwn && !waiting && askedAgain.current !== searched.current) {
      askedAgain.current = searched.current;
      askForChoices();
    }
  });
}
