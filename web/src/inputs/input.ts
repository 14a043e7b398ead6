import type { ChoiceList, LinkedRecord } from '@fiche/core/entry';
import type { Value } from '@fiche/core/fields';
import type { PreparedField } from '@fiche/core/forms';
import type { TableId } from '@fiche/core/tables';
import type { ComponentType } from 'react';

/** What every input is given and what it reports; it knows nothing of the form around it. */
export interface InputProps {
  readonly field: PreparedField;
  readonly id: string;
  readonly value: Value;
  /** Text that could not be read as a value, as it was typed. */
  readonly unread?: string;
  readonly linked?: LinkedRecord;
  readonly choices?: ChoiceList;
  /** True while choices are on their way. */
  readonly waiting: boolean;
  readonly invalid: boolean;
  readonly required: boolean;
  onTyped(text: string): void;
  onLeft(): void;
  onChanged(value: Value, linked?: LinkedRecord): void;
  onOpened(search: string): void;
  onUnmatched(text: string): void;
  /** Text was left whose choices have not arrived: whoever knows what narrows them finds what it means. */
  onTextMatched(text: string): void;
  /** The table of the form, and for a line its subform: where files belong. */
  readonly table?: TableId;
  readonly subform?: string;
  /** Why a dropdown without choices has none, in words. */
  readonly emptyWords?: string;
  /** Shows why the dropdown offers what it offers. */
  onWhy?(): void;
  /** Adds a new one in place, begun with what was typed. */
  onAdd?(text: string): void;
}

export type Input = ComponentType<InputProps>;
