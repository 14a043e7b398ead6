export { describeChanges, type FieldChange, type LineKind, linksIn, type Through } from './line.ts';
