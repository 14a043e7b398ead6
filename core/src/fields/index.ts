export { LOGIN } from './account.ts';
export {
  type AttachmentSettings,
  type FileToken,
  fileName,
  filesOf,
  KINDS,
  type Kinds,
  LARGEST_MB,
  PICTURES,
  readFileToken,
  writeFileToken,
} from './attachments.ts';
export { formatDay, formatMoment } from './calendar.ts';
export { convert, isConvertible, plainText } from './convert.ts';
export { dateTime, parseDateTime } from './dateTime.ts';
export { type Family, type FieldType, type Settings, TYPE_GROUPS, withArticle } from './fieldType.ts';
export { fitMask, isMask, maskExample } from './mask.ts';
export { loadPatterns, matchesPattern, patternMisfit } from './patterns.ts';
export { FIELD_TYPES, fieldType, isFieldType } from './registry.ts';
export { ROUNDING_WORDS, type Rounding, roundBy } from './rounding.ts';
export { itemsOf, readItems, writeItems } from './several.ts';
export {
  holdsAddress,
  holdsFiles,
  isIndexed,
  isLinking,
  isNumbered,
  isOfWords,
  isOneValue,
  isSeveral,
  linksOne,
  linksSeveral,
  namesPeople,
  takesWord,
  takesWords,
} from './traits.ts';
export {
  compareValues,
  isBlank,
  type Parsed,
  type Problem,
  sameValue,
  type Value,
  type Values,
  valueSchema,
} from './value.ts';
