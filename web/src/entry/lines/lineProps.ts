import type { EntryEvent, EntryState, SubformLine } from '@fiche/core/entry';
import type { Problem } from '@fiche/core/fields';
import type { PreparedField, PreparedSubform } from '@fiche/core/forms';
import type { Entry } from '../useEntry.ts';

/** What the lines of a subform are shown with. */
export interface LinesProps {
  readonly entry: Entry;
  readonly subform: PreparedSubform;
  readonly narrow: boolean;
  /** Puts the cursor into the blank line when it opens. */
  readonly focusBlank?: boolean;
  /** The name of the lines stands above them, where nothing else says it. */
  readonly titled?: boolean;
  onWhy?(path: string): void;
  onAdd?(path: string, text: string): void;
}

/** The same, for one of the shapes that lines have. */
export type ShapeProps = Omit<LinesProps, 'narrow' | 'focusBlank' | 'titled'> & {
  readonly lines: readonly SubformLine[];
};

/** What one line is shown with, in rows and in cards. */
export interface LineProps {
  readonly dispatch: Entry['dispatch'];
  readonly subform: PreparedSubform;
  readonly line: SubformLine;
  /** Its place, from 0. */
  readonly at: number;
  onWhy?(path: string): void;
  onAdd?(path: string, text: string): void;
}

/** What one cell of a line is shown with. */
export interface LineCellProps {
  readonly state: EntryState;
  readonly field: PreparedField;
  readonly subform: string;
  readonly lineKey: string;
  /** The place of the line, from 1. */
  readonly n: number;
  readonly problem?: Problem & { readonly asks?: true };
  dispatch(event: EntryEvent): void;
  onWhy?(path: string): void;
  onAdd?(path: string, text: string): void;
}
