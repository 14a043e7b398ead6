import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { fieldOf, tableOf } from '../fixtures/tables.ts';
import { POINTS_A_MM } from '../print/index.ts';
import {
  COMMON_SHEETS,
  fitLines,
  LABEL_PADDING,
  type LabelLayout,
  LINE_HEIGHT,
  labelLayoutSchema,
  labelProblems,
  labelsOnSheet,
  labelTexts,
  placeOnSheet,
  proposeLayout,
  sheetSchema,
} from './index.ts';

const [first] = COMMON_SHEETS;
const layout = (more: object = {}): LabelLayout =>
  labelLayoutSchema.parse({ sheet: first, lines: [{ text: '{name}' }], ...more });
/** Letters half as wide as they are high. */
const measure = (text: string): number => text.length / 2;

describe('a sheet', () => {
  test('of every common kind lies on its paper, label by label, without one over another', () => {
    expect(COMMON_SHEETS.map((one) => sheetSchema.parse(one).paper)).toEqual(['a4', 'a4', 'a4', 'letter', 'letter']);
    for (const sheet of COMMON_SHEETS) {
      const places = Array.from({ length: labelsOnSheet(sheet) }, (_one, at) => placeOnSheet(sheet, at));
      for (const [at, { x, y }] of places.entries())
        for (const other of places.slice(at + 1))
          expect(
            x + sheet.width <= other.x + 1e-9 ||
              y + sheet.height <= other.y + 1e-9 ||
              other.x + sheet.width <= x + 1e-9,
          ).toBe(true);
    }
  });

  test('that is larger than its paper is refused, with what to check', () => {
    const read = sheetSchema.safeParse({ ...first, columns: 4 });
    expect(read.error?.issues[0]).toMatchObject({ path: ['columns'], message: expect.stringContaining('280 mm wide') });
    expect(sheetSchema.safeParse({ ...first, rows: 9 }).error?.issues[0]?.message).toContain('Check the rows');
    expect(sheetSchema.safeParse({ ...first, width: 4 }).error?.issues[0]?.message).toContain('at least 15 mm');
  });
});

describe('the lines of a label', () => {
  test('stay within it, whatever they say: smaller first, then cut, and told', () =>
    fc.assert(
      fc.property(
        fc.array(fc.string({ maxLength: 120 }), { minLength: 1, maxLength: 10 }),
        fc.integer({ min: 15, max: 120 }),
        fc.integer({ min: 8, max: 80 }),
        fc.boolean(),
        (texts, width, height, qr) => {
          const sheet = { paper: 'a4', columns: 1, rows: 1, width, height, gapX: 0, gapY: 0, top: 0, left: 0 };
          const one = layout({ sheet, qr, lines: texts.map((text) => ({ text: text.trim() || 'x', size: 'large' })) });
          const { lines, omitted } = fitLines(one, texts, measure);
          const used = lines.reduce((sum, line) => sum + line.points * LINE_HEIGHT, 0);
          expect(used).toBeLessThanOrEqual((height - 2 * LABEL_PADDING) * POINTS_A_MM + 0.5);
          const room = (width - 2 * LABEL_PADDING) * POINTS_A_MM;
          for (const line of lines)
            if (line.text.length > 1) expect(measure(line.text) * line.points).toBeLessThanOrEqual(room + 0.1);
          const written = texts.flatMap((text) => text.split('\n')).filter((text) => text.trim() !== '');
          expect(lines.length + omitted).toBe(written.length);
          for (const line of lines) expect(line.cut).toBe(line.text.endsWith('…') && !written.includes(line.text));
        },
      ),
    ));

  test('are drawn as large as wanted where there is room', () => {
    const one = layout({ lines: [{ text: '{name}', size: 'large' }, { text: '{town}' }] });
    expect(fitLines(one, ['Ada Finch', 'Tern Cove'], measure).lines.map((line) => line.points)).toEqual([14, 10.5]);
    expect(fitLines(one, ['Ada Finch', 'Oar Lane 3\nTern Cove'], measure).lines.map((line) => line.text)).toEqual([
      'Ada Finch',
      'Oar Lane 3',
      'Tern Cove',
    ]);
    expect(fitLines(one, ['', 'Tern Cove'], measure).lines.map((line) => line.text)).toEqual(['Tern Cove']);
  });

  test('say nothing of what is blank, nor the mark between two fields', () => {
    const values: Record<string, string> = { name: 'Ada Finch', town: '', code: 'GS 1' };
    const texts = (...lines: string[]) =>
      labelTexts({ lines: lines.map((text) => ({ text, size: 'normal', bold: false })) }, (path) => values[path] ?? '');
    expect(texts('{name}', 'Berth {berth}', '{code} {town}', '{town}, {code}', 'Gannet Sound')).toEqual([
      'Ada Finch',
      '',
      'GS 1',
      'GS 1',
      'Gannet Sound',
    ]);
  });

  test('name fields that are there, each fault at its line', () => {
    const table = tableOf('quay_owners', [fieldOf('name', 'text')]);
    const one = layout({ lines: [{ text: '{name} {record}' }, { text: '{gone}' }] });
    expect(labelProblems(one, table, new Map([[table.id, table]])).map((problem) => problem.path)).toEqual(['lines.1']);
  });
});

describe('a layout to begin with', () => {
  const [name, kind, mail] = ['name', 'kind', 'mail'].map((id) => fieldOf(id, 'text'));
  const lines = (...fields: (ReturnType<typeof fieldOf> | undefined)[]) =>
    proposeLayout(
      tableOf(
        'owners',
        fields.filter((one) => one !== undefined),
        { title: 'name' },
      ),
      'a4',
    ).lines.map((one) => one.text);

  test('has what the record is called over its address, or else over its first texts', () => {
    expect(lines(name, kind, fieldOf('address', 'longText'), mail)).toEqual(['{record}', '{address}']);
    expect(lines(name, kind, mail, fieldOf('phone', 'phone'))).toEqual(['{record}', '{kind}', '{mail}']);
    expect(lines(name, fieldOf('length', 'decimal'))).toEqual(['{record}']);
  });

  test('can be printed as it is, on a sheet of the office’s paper', () => {
    const table = tableOf('owners', [fieldOf('name', 'text'), fieldOf('address', 'longText')], { title: 'name' });
    for (const paper of ['a4', 'letter'] as const) {
      const proposed = proposeLayout(table, paper);
      expect(proposed.sheet.paper).toBe(paper);
      expect(labelLayoutSchema.parse(proposed)).toEqual(proposed);
      expect(labelProblems(proposed, table, new Map([[table.id, table]]))).toEqual([]);
    }
  });
});
