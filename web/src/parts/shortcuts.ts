/** Where a shortcut works. */
export type ShortcutPlace = 'everywhere' | 'card' | 'lines' | 'records' | 'editor';

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
  goTo: shortcut('everywhere', 'ctrl+k, meta+k', 'Ctrl+K', 'find a record, form, table or page'),
  help: shortcut('everywhere', 'shift+?, ?, f1', '?  or  F1', 'the keys of this page'),
  save: shortcut('card', 'ctrl+s, meta+s', 'Ctrl+S', 'save'),
  saveAndNext: shortcut('card', 'ctrl+enter', 'Ctrl+Enter', 'save, then the next card'),
  previousRecord: shortcut('card', 'alt+pageup', 'Alt+PageUp', 'previous record'),
  nextRecord: shortcut('card', 'alt+pagedown', 'Alt+PageDown', 'next record'),
  findRecord: shortcut('card', 'alt+g', 'Alt+G', 'go to a record by its number or by words'),
  blankCard: shortcut('card', 'alt+n', 'Alt+N', 'a blank card'),
  duplicate: shortcut('card', 'alt+d', 'Alt+D', 'a copy of this record, saved as a new one'),
  keepValue: shortcut('card', 'alt+k', 'Alt+K', 'keep this field’s value for the next card'),
  history: shortcut('card', 'alt+h', 'Alt+H', 'history'),
  why: shortcut('card', 'alt+w', 'Alt+W', 'why does this dropdown offer these choices?'),
  addChoice: shortcut('card', 'alt+a', 'Alt+A', 'add a new choice to this dropdown, where the form allows it'),
  lineUp: shortcut('lines', 'alt+arrowup', 'Alt+↑', 'move the line up'),
  lineDown: shortcut('lines', 'alt+arrowdown', 'Alt+↓', 'move the line down'),
  copyDown: shortcut('lines', 'ctrl+d', 'Ctrl+D', 'copy down from the line above'),
  removeLine: shortcut('lines', 'ctrl+delete', 'Ctrl+Delete', 'remove the line'),
  undoLines: shortcut('lines', 'alt+z', 'Alt+Z', 'undo in the lines'),
  fillDown: shortcut(
    'records',
    'ctrl+d',
    'Ctrl+D',
    'fill down: the value above into this cell or, where rows are selected, this value into all of them',
  ),
  undoRow: shortcut('records', 'ctrl+z, meta+z', 'Ctrl+Z', 'undo the row that was saved last'),
  redoRow: shortcut('records', 'ctrl+shift+z, ctrl+y, meta+shift+z', 'Ctrl+Shift+Z', 'do it again'),
  addToForm: shortcut('editor', '/', '/', 'add to the form'),
  moveUp: shortcut('editor', 'alt+arrowup', 'Alt+↑', 'move up in the outline'),
  moveDown: shortcut('editor', 'alt+arrowdown', 'Alt+↓', 'move down in the outline'),
  removeItem: shortcut('editor', 'delete', 'Delete', 'remove from the form'),
  undo: shortcut('editor', 'ctrl+z, meta+z', 'Ctrl+Z', 'undo'),
  redo: shortcut('editor', 'ctrl+shift+z, ctrl+y, meta+shift+z', 'Ctrl+Shift+Z', 'redo'),
} as const satisfies Record<string, ShortcutDefinition>;

export type ShortcutId = keyof typeof SHORTCUTS;

/** Keys that belong to the parts themselves, as the list that `?` opens shows them. */
export const KEYS_OF_PARTS: readonly (readonly [place: ShortcutPlace, shown: string, does: string])[] = [
  ['card', 'Enter', 'next field that nothing else fills; in an open dropdown, takes the choice first'],
  ['card', 'Tab  Shift+Tab', 'next field, previous field'],
  ['card', 'Type in a dropdown', 'finds choices; Enter or Tab takes the first'],
  ['card', 'Y  N', 'yes, no; Delete clears the answer'],
  ['lines', '↑ ↓', 'the same cell of the line above, below'],
  ['lines', 'Enter in the blank line', 'leaves the lines: next field of the card'],
  ['lines', 'Ctrl+V', 'paste a block from a spreadsheet'],
  [
    'records',
    '↑ ↓ ← →  PageUp PageDown',
    'through the records, cell by cell; ↑ from the first one leads to the headings',
  ],
  ['records', 'Home End  Ctrl+Home Ctrl+End', 'first and last cell of the row, of the list'],
  ['records', 'Enter', 'open the record; on a heading, sort by it'],
  [
    'records',
    'F2  or typing',
    'edit the cell; Enter saves the row and goes down, Tab goes on in the row, Esc leaves it',
  ],
  ['records', 'Space  Shift+Space  Ctrl+A', 'select the record, all from the last one to here, all that are found'],
  ['records', 'Ctrl+V', 'paste a block from a spreadsheet from this cell on; it is shown before it is written'],
  ['records', 'Shift+← Shift+→', 'on a heading: make the column narrower, wider'],
  ['records', 'Ctrl+Shift+← Ctrl+Shift+→', 'on a heading: move the column'],
  ['editor', '↑ ↓', 'through the outline'],
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
