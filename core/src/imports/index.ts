export { type CellReading, type DateOrder, type DecimalMark, readCell, readDateOrder, unguarded } from './cell.ts';
export { BrokenJson, cellText, isRecord, jsonRecords, readJson } from './cellText.ts';
export { type ColumnGuess, findHeader, inferColumn } from './infer.ts';
export { FileLook } from './look.ts';
export { matchColumns, matchOn } from './match.ts';
export {
  type ImportColumn,
  type ImportCounts,
  type ImportPlan,
  importPlanSchema,
  type Reading,
  readingSchema,
} from './plan.ts';
export { CSV_PARSING, type Encoding, type FileKind, sniffEncoding, sniffKind, sniffSeparator } from './sniff.ts';
export { UnreadableXml, type XmlList, xmlLists } from './xml.ts';
