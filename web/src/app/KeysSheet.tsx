import { useEffect, useState } from 'react';
import { useLocation } from 'react-router-dom';
import { Sheet } from '../parts/index.ts';

type Keys = readonly (readonly [keys: string, does: string])[];

const EVERYWHERE: Keys = [
  ['Ctrl+K', 'go to a form, table or page'],
  ['?  or  F1', 'this list'],
];
const CARD: Keys = [
  ['Enter', 'on to the next field that nothing else fills; in a dropdown, takes the choice first'],
  ['Tab', 'on to every next field; Shift+Tab goes back'],
  ['Ctrl+S', 'save'],
  ['Ctrl+Enter', 'save, and on to the next card'],
  ['Alt+← Alt+→', 'previous, next record'],
  ['Alt+G', 'go to a record by its number or by words'],
  ['Alt+N', 'a blank card'],
  ['Alt+D', 'a copy of this record, to be changed and saved as a new one'],
  ['Alt+K', 'keep this field’s value for the next card'],
  ['Alt+H', 'history'],
  ['Alt+W', 'why does this dropdown offer these choices?'],
  ['Alt+A', 'add a new one for this dropdown, where the form allows it'],
  ['Type in a dropdown', 'to find; Enter or Tab takes the first'],
];
const LINES: Keys = [
  ['Enter in the blank line', 'ends the lines: on to the next field'],
  ['↑ ↓', 'the same cell of the line above, below'],
  ['Alt+↑ Alt+↓', 'move the line'],
  ['Ctrl+D', 'copy down from the line above'],
  ['Ctrl+V', 'paste a block from a spreadsheet'],
  ['Ctrl+Delete', 'archive the line'],
  ['Alt+Z', 'undo in lines'],
];
const STUDIO: Keys = [
  ['/', 'add to the form'],
  ['↑ ↓', 'through the outline'],
  ['Alt+↑ Alt+↓', 'move in the outline'],
  ['Delete', 'take off the form'],
  ['Ctrl+Z, Ctrl+Shift+Z', 'undo, redo'],
  ['Alt+W', 'why does this dropdown offer these choices?'],
];

/** What the keyboard does here: opened by `?` where nothing is typed, and by F1 anywhere. */
export function KeysSheet() {
  const [open, setOpen] = useState(false);
  const { pathname } = useLocation();
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const typing = (event.target as Element).closest('input, textarea, select');
      if (event.key === 'F1' || (event.key === '?' && !typing)) setOpen(!open);
      else if (event.key === 'Escape' && open) setOpen(false);
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [open]);
  const studio = pathname.endsWith('/studio');
  const card = !studio && /\/(forms|tables)\/[^/]+\/(new|\d+)$/.test(pathname);
  const parts: [string, Keys][] = [
    ...(card ? ([['On a card', CARD] as [string, Keys], ['In lines', LINES] as [string, Keys]] as const) : []),
    ...(studio ? ([['In the Studio', STUDIO] as [string, Keys]] as const) : []),
    ['Everywhere', EVERYWHERE],
  ];
  return (
    <>
      <button type="button" className="keys" aria-expanded={open} onClick={() => setOpen(!open)}>
        Keys <kbd aria-hidden="true">?</kbd>
      </button>
      {open && (
        <div className="keys-sheet">
          <Sheet title="Keys" label="What the keyboard does here" onClose={() => setOpen(false)}>
            {parts.map(([title, keys]) => (
              <section key={title}>
                <h3>{title}</h3>
                <dl>
                  {keys.map(([key, does]) => (
                    <div key={key}>
                      <dt>
                        <kbd>{key}</kbd>
                      </dt>
                      <dd>{does}</dd>
                    </div>
                  ))}
                </dl>
              </section>
            ))}
            <button type="button" className="link" onClick={() => window.print()}>
              Print this list
            </button>
          </Sheet>
        </div>
      )}
    </>
  );
}
