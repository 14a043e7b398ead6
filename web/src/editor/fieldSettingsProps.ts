import type { FindingView } from '@fiche/core/api';
import type { Value } from '@fiche/core/fields';
import type { DefinedForm, PreparedField, PreparedForm } from '@fiche/core/forms';

/** What stands on the live card now. */
export interface LiveValues {
  readonly now: string;
  valueAt(path: string): Value;
}

/** What every part of the settings of an item reads, and how it changes the form. */
export interface ItemSettingsProps {
  readonly definition: DefinedForm;
  readonly prepared: PreparedForm;
  readonly findings: readonly FindingView[];
  /** The field’s or subform’s id, `§` and a section, or `#` and an item that is no field. */
  readonly selected: string;
  onChange(definition: DefinedForm, select?: string): void;
}

export interface FieldSettingsProps extends Omit<ItemSettingsProps, 'selected'> {
  /** The form’s id. */
  readonly id: string;
  readonly field: PreparedField;
  readonly live?: LiveValues;
}
