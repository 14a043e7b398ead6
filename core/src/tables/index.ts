export { type CardLine, cardLines, cardPaths, readCardLine } from './card.ts';
export { checkField } from './checkField.ts';
export type { ConstraintKind, SentencePart } from './constraints/kind.ts';
export { constraintMisfit } from './constraints/misfit.ts';
export {
  COMBINATION,
  type Constraint,
  type ConstraintOf,
  constraintFields,
  constraintKind,
  constraintKinds,
  constraintSchema,
  constraintWords,
} from './constraints/registry.ts';
export {
  type FieldId,
  fieldIdSchema,
  type IdOfForm,
  idSchema,
  type RecordId,
  type TableId,
  tableIdSchema,
} from './ids.ts';
export { nameFrom, RESERVED_COLUMNS } from './naming.ts';
export {
  BEFORE,
  EVENT_KINDS,
  type EventKind,
  type Ripple,
  type RippleEffect,
  type RippleSource,
  type RippleValue,
  rippleSchema,
  withoutBefore,
} from './ripple.ts';
export {
  type FieldDefinition,
  fieldAtPath,
  findField,
  type Initial,
  initialMisfit,
  initialSchema,
  isGiven,
  isReserved,
  LABEL_MOST,
  labelSchema,
  labelTaken,
  linkedTable,
  type NewField,
  type NewFieldInput,
  newFieldSchema,
  type TableDefinition,
  type Tables,
  targetTable,
  typeOf,
} from './table.ts';
export { tablesNamed } from './tablesNamed.ts';
export { type TitlePart, titleFields, titleNames, titleParts, titleWithin, writeTitle } from './title.ts';
