import { EVERYTHING, type Group } from '@fiche/core/conditions';
import { takesWord } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { typeOf } from '@fiche/core/tables';
import { aroundOf, ConditionSentences, formSides } from '../sentences/index.ts';

interface Props {
  readonly prepared: PreparedForm;
  /** What cannot depend on itself. */
  readonly except: readonly string[];
  readonly condition: Group | null;
  readonly lead: string;
  readonly addLabel: string;
  readonly none: string;
  onChange(condition: Group | null): void;
}

/** When something of the form is shown, or required: a condition over the other fields. */
export function ShownSentences({ prepared, except, condition, lead, addLabel, none, onChange }: Props) {
  const fields = [...prepared.fields.values()]
    .filter((one) => one.placed && !except.includes(one.id))
    .map((one) => ({ ...one.field, label: one.label }));
  const sides = formSides(prepared.tables, fields, aroundOf(prepared));
  // What people answer with yes, no or one of a few words decides most often what else is asked.
  const begin =
    sides.left.find((side) => typeOf(side.field).family === 'yesNo') ??
    sides.left.find((side) => takesWord(side.field));
  return (
    <ConditionSentences
      sides={sides}
      where={condition ?? EVERYTHING}
      lead={[lead]}
      none={[none]}
      addLabel={addLabel}
      begin={condition === null || condition.of.length === 0 ? begin : undefined}
      onChange={(where) => onChange(where.of.length === 0 ? null : where)}
    />
  );
}
