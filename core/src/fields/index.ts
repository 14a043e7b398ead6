export { formatDay } from './calendar.ts';
export { convert, isConvertible } from './convert.ts';
export type { Family, FieldType, Settings } from './fieldType.ts';
export { FIELD_TYPES, fieldType, isFieldType } from './registry.ts';
export { fitMask, isMask, maskExample } from './mask.ts';
export { itemsOf, readItems, writeItems } from './several.ts';
export { compareValues, isBlank, sameValue, type Parsed, type Problem, type Value, type Values } from './value.ts';
