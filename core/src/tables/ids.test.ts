import { expect, test } from 'vitest';
import { type FieldId, fieldIdSchema, type RecordId, type TableId, tableIdSchema } from './ids.ts';

test('one kind of id is not taken for another; the check of a name is the same for each', () => {
  const table: TableId = 'stays';
  // @ts-expect-error The compiler refuses the id of a table in the place of a field’s.
  const field: FieldId = table;
  // @ts-expect-error And the number of a record is no text.
  const record: RecordId = field;
  expect([table, field, record]).toEqual(['stays', 'stays', 'stays']);
  for (const schema of [tableIdSchema, fieldIdSchema]) {
    expect(schema.parse('crew_members')).toBe('crew_members');
    expect(schema.safeParse('Crew members').success).toBe(false);
  }
});
