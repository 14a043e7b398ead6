import type { Reading } from '@fiche/core/imports';
import { CardSection, Sentence } from '../parts/index.ts';
import type { Looked } from './useLook.ts';

const SEPARATORS = [
  { value: ',', label: 'commas' },
  { value: ';', label: 'semicolons' },
  { value: '\t', label: 'tabs' },
  { value: '|', label: 'bars' },
];
const ENCODINGS = [
  { value: 'utf-8', label: 'UTF-8' },
  { value: 'windows-1252', label: 'Windows-1252' },
  { value: 'utf-16le', label: 'UTF-16' },
  { value: 'utf-16be', label: 'UTF-16, big end first' },
];
const KINDS = { csv: 'delimited text', xlsx: 'a workbook', json: 'JSON', jsonl: 'JSON Lines', xml: 'XML' };

/** How the file is read, as found by looking; every part can be set otherwise. */
export function ReadingSection({ looked, onSay }: { looked: Looked; onSay(part: Partial<Reading>): void }) {
  const { reading, sheets, top } = looked;
  const rows = top.map((row, at) => ({
    value: String(at),
    label: `row ${at + 1}`,
    detail: row
      .filter((cell) => cell)
      .join(' · ')
      .slice(0, 60),
  }));
  return (
    <CardSection label="How it is read">
      <Sentence
        parts={[
          `It is ${KINDS[reading.kind]}`,
          ...(reading.kind === 'csv'
            ? [
                ' in ',
                {
                  key: 'encoding',
                  label: 'encoding',
                  shown: ENCODINGS.find((one) => one.value === reading.encoding)?.label ?? reading.encoding,
                  pick: { kind: 'options' as const, options: ENCODINGS, current: reading.encoding },
                  onSet: (encoding: string) => onSay({ encoding: encoding as Reading['encoding'] }),
                },
                ', with ',
                {
                  key: 'separator',
                  label: 'separator',
                  shown: SEPARATORS.find((one) => one.value === reading.separator)?.label ?? reading.separator,
                  pick: { kind: 'options' as const, options: SEPARATORS, current: reading.separator },
                  onSet: (separator: string) => onSay({ separator }),
                },
                ' between the cells',
              ]
            : []),
          ...(sheets.length > 0
            ? [
                reading.kind === 'xml' ? '; its records are ' : '; its sheet ',
                {
                  key: 'sheet',
                  label: reading.kind === 'xml' ? 'list of records' : 'sheet',
                  shown: sheets[reading.sheet - 1] ?? '',
                  pick: {
                    kind: 'options' as const,
                    options: sheets.map((name, at) => ({ value: String(at + 1), label: name })),
                    current: String(reading.sheet),
                  },
                  onSet: (sheet: string) => onSay({ sheet: Number(sheet), header: undefined }),
                },
              ]
            : []),
          ...(reading.kind === 'csv' || reading.kind === 'xlsx'
            ? [
                '; its columns are named in ',
                {
                  key: 'header',
                  label: 'row of names',
                  shown: `row ${reading.header + 1}`,
                  pick: { kind: 'options' as const, options: rows, current: String(reading.header) },
                  onSet: (header: string) => onSay({ header: Number(header) }),
                },
              ]
            : []),
          '.',
        ]}
      />
    </CardSection>
  );
}
