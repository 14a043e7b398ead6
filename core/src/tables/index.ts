export { checkField } from './checkField.ts';
export { nameFrom, RESERVED_COLUMNS } from './naming.ts';
export {
  type FieldDefinition,
  type FieldId,
  fieldAtPath,
  findField,
  type Initial,
  idSchema,
  initialSchema,
  isReserved,
  LABEL_MOST,
  labelSchema,
  labelTaken,
  linkedTable,
  type NewField,
  type NewFieldInput,
  newFieldSchema,
  type TableDefinition,
  type TableId,
  type Tables,
  typeOf,
  valueSchema,
} from './table.ts';
