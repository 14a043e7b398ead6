import { say } from '@fiche/core/languages';
/** Where a shortcut works. */
export type ShortcutPlace = 'everywhere' | 'card' | 'lines' | 'records' | 'shown' | 'editor';

interface ShortcutDefinition {
  /** Keys as `ctrl+k`; several ways are parted by commas. */
  readonly keys: string;
  /** The keys as people read them. */
  readonly shown: string;
  /** What they do, in a few words. */
  readonly does: string;
  readonly place: ShortcutPlace;
}

const shortcut = (place: ShortcutPlace, keys: string, shown: string, does: string): ShortcutDefinition => ({
  keys,
  shown,
  does,
  place,
});

/** Every shortcut of the application: handlers take their keys from here, and so does the list that `?` opens. */
export const SHORTCUTS = {
  goTo: shortcut('everywhere', 'ctrl+k, meta+k', 'Ctrl+K', say('find a record, form, table or page')),
  help: shortcut('everywhere', 'shift+?, ?, f1', say('?  or  F1'), say('the keys of this page')),
  save: shortcut('card', 'ctrl+s, meta+s', 'Ctrl+S', 'save'),
  saveAndNext: shortcut('card', 'ctrl+enter', 'Ctrl+Enter', say('save, then the next card')),
  previousRecord: shortcut('card', 'alt+pageup', 'Alt+PageUp', say('previous record')),
  nextRecord: shortcut('card', 'alt+pagedown', 'Alt+PageDown', say('next record')),
  findRecord: shortcut('card', 'alt+g', 'Alt+G', say('go to a record by its number or by words')),
  blankCard: shortcut('card', 'alt+n', 'Alt+N', say('a blank card')),
  duplicate: shortcut('card', 'alt+d', 'Alt+D', say('a copy of this record, saved as a new one')),
  keepValue: shortcut('card', 'alt+k', 'Alt+K', say('keep this field’s value for the next card')),
  history: shortcut('card', 'alt+h', 'Alt+H', 'history'),
  why: shortcut('card', 'alt+w', 'Alt+W', say('why does this dropdown offer these choices?')),
  addChoice: shortcut('card', 'alt+a', 'Alt+A', say('add a new choice to this dropdown, where the form allows it')),
  lineUp: shortcut('lines', 'alt+arrowup', 'Alt+↑', say('move the line up')),
  lineDown: shortcut('lines', 'alt+arrowdown', 'Alt+↓', say('move the line down')),
  copyDown: shortcut('lines', 'ctrl+d', 'Ctrl+D', say('copy down from the line above')),
  removeLine: shortcut('lines', 'ctrl+delete', 'Ctrl+Delete', say('remove the line')),
  undoLines: shortcut('lines', 'alt+z', 'Alt+Z', say('undo in the lines')),
  fillDown: shortcut(
    'records',
    'ctrl+d',
    'Ctrl+D',
    say('fill down: the value above into this cell or, where rows are selected, this value into all of them'),
  ),
  undoRow: shortcut('records', 'ctrl+z, meta+z', 'Ctrl+Z', say('undo the row that was saved last')),
  redoRow: shortcut('records', 'ctrl+shift+z, ctrl+y, meta+shift+z', 'Ctrl+Shift+Z', say('do it again')),
  addToForm: shortcut('editor', '/', '/', say('add to the form')),
  moveUp: shortcut('editor', 'alt+arrowup', 'Alt+↑', say('move up in the outline')),
  moveDown: shortcut('editor', 'alt+arrowdown', 'Alt+↓', say('move down in the outline')),
  removeItem: shortcut('editor', 'delete', 'Delete', say('remove from the form')),
  undo: shortcut('editor', 'ctrl+z, meta+z', 'Ctrl+Z', 'undo'),
  redo: shortcut('editor', 'ctrl+shift+z, ctrl+y, meta+shift+z', 'Ctrl+Shift+Z', 'redo'),
} as const satisfies Record<string, ShortcutDefinition>;

export type ShortcutId = keyof typeof SHORTCUTS;

/** Keys that belong to the parts themselves, as the list that `?` opens shows them. */
export const KEYS_OF_PARTS: readonly (readonly [place: ShortcutPlace, shown: string, does: string])[] = [
  ['card', 'Enter', say('next field that nothing else fills; in an open dropdown, takes the choice first')],
  ['card', say('Tab  Shift+Tab'), say('next field, previous field')],
  ['card', say('Type in a dropdown'), say('finds choices; Enter or Tab takes the first')],
  ['card', 'Y  N', say('yes, no; Delete clears the answer')],
  ['lines', '↑ ↓', say('the same cell of the line above, below')],
  ['lines', say('Enter in the blank line'), say('leaves the lines: next field of the card')],
  ['lines', 'Ctrl+V', say('paste a block from a spreadsheet')],
  [
    'records',
    say('↑ ↓ ← →  PageUp PageDown'),
    say('through the records, cell by cell; ↑ from the first one leads to the headings'),
  ],
  ['records', 'Home End  Ctrl+Home Ctrl+End', say('first and last cell of the row, of the list')],
  ['records', 'Enter', say('open the record; on a heading, sort by it')],
  [
    'records',
    say('F2  or typing'),
    say('edit the cell; Enter saves the row and goes down, Tab goes on in the row, Esc leaves it'),
  ],
  [
    'records',
    'Space  Shift+Space  Ctrl+A',
    say('select the record, all from the last one to here, all that are found'),
  ],
  ['records', 'Ctrl+V', say('paste a block from a spreadsheet from this cell on; it is shown before it is written')],
  ['records', 'Shift+← Shift+→', say('on a heading: make the column narrower, wider')],
  ['records', 'Ctrl+Shift+← Ctrl+Shift+→', say('on a heading: move the column')],
  ['shown', '← → ↑ ↓', say('from one bar or period to the next')],
  ['shown', 'Enter', say('on a bar, its records; on a period, its card and its moves by buttons')],
  [
    'shown',
    'Space',
    say('takes a period up: arrows move it, Shift and arrows its end, Enter puts it down, Esc leaves it where it was'),
  ],
  ['editor', '↑ ↓', say('through the outline')],
];

/** Whether a pressed key is one of a shortcut’s. */
export function isShortcut(
  event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'altKey' | 'shiftKey' | 'metaKey'>,
  id: ShortcutId,
): boolean {
  return SHORTCUTS[id].keys.split(', ').some((combination) => {
    const parts = combination.split('+');
    return (
      event.key.toLowerCase() === parts.at(-1) &&
      event.ctrlKey === parts.includes('ctrl') &&
      event.altKey === parts.includes('alt') &&
      event.shiftKey === parts.includes('shift') &&
      event.metaKey === parts.includes('meta')
    );
  });
}
