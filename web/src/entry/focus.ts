import { type EntryState, presentLines, splitPath } from '@fiche/core/entry';
import type { PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { FieldId } from '@fiche/core/tables';
import { createContext, type KeyboardEvent } from 'react';
import { moveOn } from '../inputs/index.ts';

/** What stands before the places of a card that is not the only one on its page. */
export const PlaceContext = createContext('');

/** The id of the input of a field, or of a field of a line by its path. */
export const inputId = (path: string): string => `f-${path}`;

/** Lines that are not on the page, and what brings them there, by subform. */
const wanted = new Map<string, (key: string) => void>();

/** Says what to do when a line of a subform is to be gone to that is not in sight; returns what ends that. */
export function onWanted(subform: string, show: (key: string) => void): () => void {
  wanted.set(subform, show);
  return () => wanted.delete(subform);
}

/** Puts the cursor into a field, or a cell of a line; one that is out of sight comes into it first. */
export function focusField(path: string): void {
  const line = splitPath(path)?.line;
  const show = line && wanted.get(line.subform);
  const away = line && show && !document.getElementById(inputId(path));
  if (away) {
    show(line.key);
    requestAnimationFrame(() => focusInput(path));
  } else focusInput(path);
}

function focusInput(path: string): void {
  const input = document.getElementById(inputId(path));
  const target = input?.matches('input, textarea')
    ? input
    : input?.querySelector<HTMLElement>('input, textarea, button');
  target?.focus();
  target?.scrollIntoView({ block: 'nearest' });
}

/** Puts the cursor where something stands against saving: into the first field to correct, or the first reason to give. */
export function focusFirstProblem(): void {
  const wrong = document.querySelector<HTMLElement>('[data-field][data-invalid]')?.dataset.field;
  if (wrong) focusField(wrong.replace(/^f-/, ''));
  // What is wrong is in a line that is out of sight.
  else if (document.querySelector('[data-problems]'))
    document.querySelector<HTMLElement>('[data-problems] li button')?.click();
  else
    [...document.querySelectorAll<HTMLInputElement>('[data-reason] input')]
      .find((input) => input.value.trim() === '')
      ?.focus();
}

/** Enter goes on to the next input, where it has nothing of its own to do. */
export function enterMovesOn(event: KeyboardEvent<HTMLElement>): void {
  const from = event.target as HTMLElement;
  const own = event.ctrlKey || event.altKey || event.shiftKey || event.defaultPrevented;
  // Text among several choices is one of them on its way.
  const choosing = from.closest('[data-several]') !== null && (from as HTMLInputElement).value !== '';
  if (event.key === 'Enter' && !own && !choosing && from.matches('input') && moveOn(from)) event.preventDefault();
}

const filled = new WeakMap<PreparedForm, ReadonlySet<string>>();

/** Whether something else on the form fills a field: Enter passes over it. */
export function isFilledByOthers(form: PreparedForm, field: FieldId): boolean {
  const known =
    filled.get(form) ?? new Set(form.wiring.edges.flatMap((edge) => (edge.kind === 'fills' ? [edge.to] : [])));
  filled.set(form, known);
  return known.has(field);
}

/** Whether a path, also one in a line, is a dropdown’s. */
export function dropdownAt(form: PreparedForm, path: string): boolean {
  const at = splitPath(path);
  const of = at ? form.subforms.get(at.line.subform)?.form : form;
  return of?.fields.get(at ? at.path : path)?.source !== undefined;
}

/** What a place is called to a person: `Departure`, `Services used, line 2, Quantity`. */
export function placeName(state: EntryState, path: string): string {
  const at = splitPath(path);
  const subform = at && state.form.subforms.get(at.line.subform);
  if (!at || !subform) return state.form.fields.get(path)?.label ?? state.form.subforms.get(path)?.label ?? path;
  const line = presentLines(state, subform.id).findIndex((one) => one.key === at.line.key) + 1;
  const label = subform.form.fields.get(at.path)?.label;
  return label
    ? say('{lines}, line {line}, {field}', { lines: subform.label, line, field: label })
    : say('{lines}, line {line}', { lines: subform.label, line });
}
