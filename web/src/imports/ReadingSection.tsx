import type { Reading } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { CardSection, Sentence } from '../parts/index.ts';
import type { Looked } from './useLook.ts';

const SEPARATORS = [
  { value: ',', label: say('commas') },
  { value: ';', label: say('semicolons') },
  { value: '\t', label: say('tabs') },
  { value: '|', label: say('bars') },
];
const ENCODINGS = [
  { value: 'utf-8', label: say('UTF-8') },
  { value: 'windows-1252', label: say('Windows-1252') },
  { value: 'utf-16le', label: say('UTF-16') },
  { value: 'utf-16be', label: say('UTF-16, big end first') },
];
const KINDS = {
  csv: say('delimited text'),
  xlsx: say('a workbook'),
  json: 'JSON',
  jsonl: say('JSON Lines'),
  xml: 'XML',
};

/** How the file is read, as found by looking; every part can be set otherwise. */
export function ReadingSection({ looked, onSay }: { looked: Looked; onSay(part: Partial<Reading>): void }) {
  const { reading, sheets, top } = looked;
  const rows = top.map((row, at) => ({
    value: String(at),
    label: say('row {at}', { at: at + 1 }),
    detail: row
      .filter((cell) => cell)
      .join(' · ')
      .slice(0, 60),
  }));
  return (
    <CardSection label={say('How it is read')}>
      <Sentence
        parts={[
          say('It is {kinds}', { kinds: KINDS[reading.kind] }),
          ...(reading.kind === 'csv'
            ? [
                ` ${say('in')} `,
                {
                  key: 'encoding',
                  label: say('encoding'),
                  shown: ENCODINGS.find((one) => one.value === reading.encoding)?.label ?? reading.encoding,
                  pick: { kind: 'options' as const, options: ENCODINGS, current: reading.encoding },
                  onSet: (encoding: string) => onSay({ encoding: encoding as Reading['encoding'] }),
                },
                `${say(', with')} `,
                {
                  key: 'separator',
                  label: say('separator'),
                  shown: SEPARATORS.find((one) => one.value === reading.separator)?.label ?? reading.separator,
                  pick: { kind: 'options' as const, options: SEPARATORS, current: reading.separator },
                  onSet: (separator: string) => onSay({ separator }),
                },
                ` ${say('between the cells')}`,
              ]
            : []),
          ...(sheets.length > 0
            ? [
                reading.kind === 'xml' ? `${say('; its records are')} ` : `${say('; its sheet')} `,
                {
                  key: 'sheet',
                  label: reading.kind === 'xml' ? say('list of records') : say('sheet'),
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
                `${say('; its columns are named in')} `,
                {
                  key: 'header',
                  label: say('row of names'),
                  shown: say('row {header}', { header: reading.header + 1 }),
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
