import { type DefinedForm, OPENING_WORDS, type PreparedForm } from '@fiche/core/forms';
import { Sentence, type Slot } from '../parts/index.ts';
import { TableRules } from '../tables/index.ts';
import { SlipPart } from './Slip.tsx';

const MAY = [
  ['add', 'add records'],
  ['change', 'change them'],
  ['archive', 'archive them'],
] as const;

/** The form's own sentences: what it is called, what may be done, its sections, its public page. */
export function FormSlip({
  definition,
  prepared,
  onChange,
}: {
  definition: DefinedForm;
  prepared: PreparedForm;
  onChange(definition: DefinedForm): void;
}) {
  const { page } = definition;
  const text = (key: string, label: string, current: string, onSet: (text: string) => void, shown = current): Slot => ({
    key,
    label,
    shown: shown || `no ${label}`,
    pick: { kind: 'text', current },
    onSet,
  });
  const may = MAY.map(
    ([key, words]): Slot => ({
      key,
      label: `whether it may ${words}`,
      shown: definition.may[key] ? words : `not ${words}`,
      pick: {
        kind: 'options',
        current: definition.may[key] ? 'yes' : 'no',
        options: [
          { value: 'yes', label: words },
          { value: 'no', label: `not ${words}` },
        ],
      },
      onSet: (value) => onChange({ ...definition, may: { ...definition.may, [key]: value === 'yes' } }),
    }),
  );
  const slug =
    definition.label
      .toLowerCase()
      .normalize('NFKD')
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 50) || 'form';
  const published: Slot = {
    key: 'page',
    label: 'whether it has a public page',
    shown: page ? 'open to everybody' : 'for accounts only',
    pick: {
      kind: 'options',
      current: page ? 'yes' : 'no',
      options: [
        { value: 'no', label: 'for accounts only' },
        { value: 'yes', label: 'open to everybody', detail: 'no account needed' },
      ],
    },
    onSet: (value) =>
      onChange({
        ...definition,
        page: value === 'yes' ? (page ?? { slug, intro: '', thanks: 'Thank you. Your answers have arrived.' }) : null,
      }),
  };
  return (
    <>
      <header className="slip-head">
        <h2>The form</h2>
      </header>
      <SlipPart title="What it is">
        <Sentence
          parts={[
            'It is called ',
            text(
              'label',
              'label',
              definition.label,
              (label) => label.trim() && onChange({ ...definition, label: label.trim() }),
            ),
            ' and may ',
            may[0] ?? '',
            ', ',
            may[1] ?? '',
            ' and ',
            may[2] ?? '',
            '. It opens on ',
            {
              key: 'opensOn',
              label: 'what it opens on',
              shown: OPENING_WORDS[definition.opensOn],
              pick: {
                kind: 'options',
                current: definition.opensOn,
                options: [
                  { value: 'blank', label: 'a blank card' },
                  { value: 'records', label: 'all records', detail: 'a list to choose from' },
                  { value: 'rows', label: OPENING_WORDS.rows, detail: 'filled like a list' },
                  { value: 'blankRows', label: OPENING_WORDS.blankRows, detail: 'earlier records do not show' },
                ],
              },
              onSet: (value) => onChange({ ...definition, opensOn: value as DefinedForm['opensOn'] }),
            },
            ', and ',
            {
              key: 'stamp',
              label: 'whether the audit fields show',
              shown: definition.showStamp ? 'shows' : 'does not show',
              pick: {
                kind: 'options',
                current: definition.showStamp ? 'yes' : 'no',
                options: [
                  { value: 'yes', label: 'shows' },
                  { value: 'no', label: 'does not show' },
                ],
              },
              onSet: (value) => onChange({ ...definition, showStamp: value === 'yes' }),
            },
            ' who added and changed a record at its foot.',
          ]}
        />
      </SlipPart>
      <SlipPart title="Who fills it">
        <Sentence
          parts={
            page
              ? [
                  'It is ',
                  published,
                  ' at /p/',
                  text('slug', 'address', page.slug, (next) =>
                    onChange({ ...definition, page: { ...page, slug: next.trim().toLowerCase() } }),
                  ),
                  ', opens with ',
                  text('intro', 'introduction', page.intro, (intro) =>
                    onChange({ ...definition, page: { ...page, intro } }),
                  ),
                  ' and ends with ',
                  text('thanks', 'closing words', page.thanks, (thanks) =>
                    onChange({ ...definition, page: { ...page, thanks } }),
                  ),
                  '.',
                ]
              : ['It is ', published, '.']
          }
        />
      </SlipPart>
      <SlipPart title="Rules of its table" letter="M" about="They guard every path into it, this form too.">
        <TableRules table={prepared.table} />
      </SlipPart>
    </>
  );
}
