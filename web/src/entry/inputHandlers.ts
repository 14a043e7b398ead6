import type { EntryEvent, EntryState, LinkedRecord } from '@fiche/core/entry';
import type { Value } from '@fiche/core/fields';
import type { PreparedField } from '@fiche/core/forms';
import { afterPointer } from './afterPointer.ts';
import { emptyWords } from './provenanceText.ts';

interface Hearing {
  readonly state: EntryState;
  readonly field: PreparedField;
  /** The field by its path: in a line, that of its cell. */
  readonly path: string;
  dispatch(event: EntryEvent): void;
  onWhy?(path: string): void;
  onAdd?(path: string, text: string): void;
}

/** What the input of a field, in the form or in a line, reports to the running form. */
export function inputHandlers({ state, field, path, dispatch, onWhy, onAdd }: Hearing) {
  const { id, source, narrowing } = field;
  return {
    emptyWords: source && emptyWords(state, field),
    onWhy: onWhy && source ? () => onWhy(path) : undefined,
    onAdd: onAdd && narrowing.adds ? (text: string) => onAdd(path, text) : undefined,
    onTyped: (text: string) => dispatch({ type: 'typed', field: id, text }),
    onLeft: () => afterPointer(() => dispatch({ type: 'left', field: id })),
    onChanged: (value: Value, linked?: LinkedRecord) => dispatch({ type: 'changed', field: id, value, linked }),
    onOpened: (search: string) => dispatch({ type: 'opened', field: id, search }),
    onUnmatched: (text: string) => dispatch({ type: 'unmatched', field: id, text }),
    onTextMatched: (text: string) => dispatch({ type: 'textMatched', field: id, text, near: true }),
  };
}
