export { formatDay } from './calendar.ts';
export type { Family, FieldType, Settings } from './fieldType.ts';
export { FIELD_TYPES, fieldType, isFieldType } from './registry.ts';
export { compareValues, isBlank, type Parsed, type Problem, type Value, type Values } from './value.ts';
