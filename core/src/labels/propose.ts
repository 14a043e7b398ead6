import { isIndexed, isLinking } from '../fields/index.ts';
import type { Paper } from '../print/index.ts';
import { type TableDefinition, titleFields, typeOf } from '../tables/index.ts';
import { COMMON_SHEETS, type LabelLayout } from './layout.ts';
import { RECORD_PLACE } from './text.ts';

/** Fields that a new label shows besides what the record is called. */
const FIRST_FIELDS = 2;

/** A layout to begin with: what the record is called over a long text such as an address, or its first texts, on a common sheet. */
export function proposeLayout(table: TableDefinition, paper: Paper): LabelLayout {
  const named = new Set(titleFields(table).map((field) => field.id));
  const texts = table.fields.filter(
    (field) => !named.has(field.id) && !isLinking(field) && typeOf(field).family === 'text' && typeOf(field).editable,
  );
  const long = texts.filter((field) => !isIndexed(field));
  const shown = (long.length > 0 ? long : texts).slice(0, long.length > 0 ? 1 : FIRST_FIELDS);
  const sheet = COMMON_SHEETS.find((one) => one.paper === paper) ?? (COMMON_SHEETS[0] as LabelLayout['sheet']);
  return {
    sheet,
    lines: [
      { text: `{${RECORD_PLACE}}`, size: 'normal', bold: true },
      ...shown.map((field) => ({ text: `{${field.id}}`, size: 'normal' as const, bold: false })),
    ],
    qr: false,
  };
}
