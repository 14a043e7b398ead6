import { isPresent, linePath, type SubformLine } from '@fiche/core/entry';
import type { PreparedSubform } from '@fiche/core/forms';
import type { FieldId } from '@fiche/core/tables';
import type { KeyboardEvent, RefObject } from 'react';
import { isShortcut } from '../../parts/index.ts';
import { focusField } from '../focus.ts';
import type { Entry } from '../useEntry.ts';
import { mayGo } from './useLine.ts';

/** The line and the column of the cell that holds an element; undefined outside the lines. */
export function cellOf(target: EventTarget): { key: string; field: FieldId } | undefined {
  const cell = (target as Element).closest<HTMLElement>('[data-line]');
  return cell ? { key: cell.dataset.line ?? '', field: cell.dataset.column ?? '' } : undefined;
}

/**
 * The keys of the lines in `box`: move, copy down, archive, undo, up and down between lines, and Enter in the blank line,
 * which goes on to what comes after them. `go` puts the focus into a cell.
 */
export function useLineKeys(
  { dispatch }: Entry,
  subform: PreparedSubform,
  lines: readonly SubformLine[],
  box: RefObject<HTMLElement | null>,
) {
  const go = (key: string | undefined, field: FieldId): void => {
    if (key !== undefined) requestAnimationFrame(() => focusField(linePath({ subform: subform.id, key }, field)));
  };
  /** What is for the line goes before what its input would do with the same keys. */
  const onLineKey = (event: KeyboardEvent): void => {
    const cell = cellOf(event.target);
    if (!cell || !(event.altKey || event.ctrlKey)) return;
    const { key, field } = cell;
    const line = { subform: subform.id, key };
    const at = lines.findIndex((one) => one.key === key);
    const down = isShortcut(event, 'lineDown');
    if ((down || isShortcut(event, 'lineUp')) && subform.ordered) {
      dispatch({ type: 'lineMoved', line, to: at + (down ? 1 : -1) });
      go(key, field);
    } else if (isShortcut(event, 'copyDown')) {
      dispatch({ type: 'copiedDown', line, field });
      go(key, field);
    } else if (isShortcut(event, 'removeLine') && lines[at] && mayGo(subform, lines[at])) {
      dispatch({ type: 'lineArchived', line });
      go((lines[at + 1] ?? lines[at - 1])?.key, field);
    } else if (isShortcut(event, 'undoLines')) dispatch({ type: 'linesUndone' });
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const cell = cellOf(event.target);
    const at = lines.findIndex((one) => one.key === cell?.key);
    const here = lines[at];
    if (!cell || !here || event.defaultPrevented) return;
    const down = event.key === 'ArrowDown';
    const inText = (event.target as HTMLElement).getAttribute('role') !== 'combobox';
    if ((down || event.key === 'ArrowUp') && inText && !event.shiftKey)
      go(lines[at + (down ? 1 : -1)]?.key, cell.field);
    // Enter in the blank line ends the list: on to what comes after it.
    else if (event.key === 'Enter' && !event.ctrlKey && !isPresent(here) && isEmptyCell(event.target))
      inputAfter(event.target as Element, box.current)?.focus();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return { go, onLineKey, onKeyDown };
}

const isEmptyCell = (target: EventTarget): boolean => (target as HTMLInputElement).value === '';

/** The first input of the card, or its save button, that comes after an element and lies outside the lines. */
function inputAfter(from: Element, lines: HTMLElement | null): HTMLElement | undefined {
  const all = document.querySelectorAll<HTMLElement>(
    '[data-card] input, [data-card] textarea, [data-card] [data-save]',
  );
  return [...all].find((one) => !lines?.contains(one) && follows(from, one) && !one.matches(':disabled'));
}

const follows = (from: Element, to: Element): boolean =>
  (from.compareDocumentPosition(to) & Node.DOCUMENT_POSITION_FOLLOWING) !== 0;
