import { fieldType, isOfWords, linksOne, type Settings, withArticle } from '@fiche/core/fields';
import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import { type FieldDefinition, findField, type TableDefinition, typeOf } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useRef, useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { SelectField, settingsCss, textCss } from '../parts/index.ts';
import { type FieldKind, levelOf } from './fieldKind.ts';
import { type BrokenRecord, Trial } from './Trial.tsx';
import { TypeControls } from './TypeControls.tsx';
import type { ChangeTable } from './useTableWork.tsx';

interface Preview {
  readonly converts: number;
  readonly blank: number;
  readonly fails: number;
  readonly samples: readonly { readonly from: string; readonly to: string }[];
  readonly failing: readonly BrokenRecord[];
  readonly words: readonly string[];
}

/** Types that no existing column can become. */
const NEVER = ['links', 'sequence', 'account', 'attachments'];

/** The settings that a new type takes over from the old one, as far as it knows them. */
function carriedSettings(
  { type, settings: chosen }: FieldKind,
  from: FieldDefinition,
  words: readonly string[],
): Settings {
  const { settings } = from;
  if (type === 'decimal' || type === 'wholeNumber')
    return { ...chosen, ...(settings.unit ? { unit: settings.unit } : {}) };
  if (type === 'amount' && settings.places !== undefined) return { ...chosen, places: settings.places };
  if (isOfWords({ type }) && !levelOf(chosen)) return { choices: settings.choices ?? words };
  return chosen;
}

interface ChangeTypeProps {
  readonly table: TableDefinition;
  readonly field: FieldDefinition;
  readonly change: ChangeTable;
  onClose(): void;
}

/** The columns of a table by which the values of a text can find its records. */
const matchable = (table: TableDefinition | undefined): FieldDefinition[] =>
  (table?.fields ?? []).filter((column) => ['text', 'number'].includes(typeOf(column).family));

/** The type that a field is to have: looked at on the server before anything is written, and then made. */
function useConversion({ table, field, change, onClose }: ChangeTypeProps) {
  const { tables } = useOffice();
  const [kind, setKind] = useState<FieldKind>({ type: field.type, settings: field.settings });
  const [matchOn, setMatchOn] = useState('');
  const [settings, setSettings] = useState<Settings>({});
  const [preview, setPreview] = useState<Preview>();
  const [trouble, setTrouble] = useState('');
  const latestLook = useRef(0);
  const base = `/api/tables/${table.id}/fields/${field.id}`;
  const targetOf = (one: FieldKind): TableDefinition | undefined =>
    linksOne(one) ? tables.get(String(one.settings.table)) : undefined;
  const look = async (next: FieldKind, match: string): Promise<void> => {
    setKind(next);
    setMatchOn(match);
    setPreview(undefined);
    setTrouble('');
    latestLook.current += 1;
    const own = latestLook.current;
    const by = linksOne(next) ? { matchOn: match } : {};
    const ask = (wanted: Settings) =>
      send<Preview>('POST', `${base}/conversion`, { type: next.type, settings: wanted, ...by });
    try {
      let wanted = carriedSettings(next, field, []);
      let found = await ask(wanted);
      // The words that stand in the column become the choices.
      if (wanted.choices && !levelOf(wanted) && field.settings.choices === undefined) {
        wanted = carriedSettings(next, field, found.words);
        found = await ask(wanted);
      }
      // Another type was chosen meanwhile: its answer counts, whichever comes last.
      if (own !== latestLook.current) return;
      setSettings(wanted);
      setPreview(found);
    } catch (error) {
      if (own === latestLook.current) setTrouble((error as Error).message);
    }
  };
  return {
    kind,
    matchOn,
    preview,
    trouble,
    target: targetOf(kind),
    choose(next: FieldKind): void {
      const to = targetOf(next);
      const match = findField(to, to?.title ?? '') ?? matchable(to)[0];
      void look(next, match?.id ?? '');
    },
    setMatch: (column: string): void => void look(kind, column),
    async make(unconverted: 'refuse' | 'blank'): Promise<void> {
      const by = linksOne(kind) ? { matchOn } : {};
      const body = { type: kind.type, settings, ...by, unconverted, revision: table.revision };
      if (await change('POST', `${base}/type`, body)) onClose();
    },
  };
}

/** Another type for a field: what converts, with samples, what does not, and then the change. */
export function ChangeType(props: ChangeTypeProps) {
  const { table, field, onClose } = props;
  const { cabinet } = useOffice();
  const { kind, matchOn, preview, trouble, target, choose, setMatch, make } = useConversion(props);
  const n = (count: number): string => formatCount(count);
  const heading =
    preview === undefined
      ? say('Change the type of {label}', { label: field.label })
      : preview.fails === 0
        ? say('All {converts} values convert{blank}.', {
            converts: n(preview.converts),
            blank: preview.blank > 0 ? say('; {blank} are blank', { blank: n(preview.blank) }) : '',
          })
        : say('{converts} values convert, {fails} not:', {
            converts: n(preview.converts),
            fails: sayCount(preview.fails, '{count} does', '{count} do'),
          });
  const named = withArticle(fieldType(kind.type));
  return (
    <Trial
      heading={heading}
      path={`/${cabinet.id}/tables/${table.id}`}
      breaks={preview?.fails ?? 0}
      examples={preview?.failing ?? []}
    >
      <div className={settingsCss.form}>
        <TypeControls
          kind={kind}
          of={table.id}
          label={say('New type')}
          without={NEVER}
          withoutWords
          onChange={choose}
        />
        {target && (
          <SelectField
            label={say('Values are matched with, in {label}', { label: target.label })}
            value={matchOn}
            options={matchable(target).map((one) => ({ value: one.id, label: one.label }))}
            onChange={setMatch}
          />
        )}
      </div>
      {preview && preview.samples.length > 0 && (
        <span className={textCss.faded}>
          {say('such as {list}', {
            list: preview.samples
              .slice(0, 3)
              .map((one) => `“${one.from}” → “${one.to}”`)
              .join(', '),
          })}
        </span>
      )}
      {trouble && (
        <span className={textCss.problem} role="alert">
          {trouble}
        </span>
      )}
      {preview && preview.fails === 0 && (
        <Button variant="contained" onClick={() => void make('refuse')}>
          {say('Make it {named}', { named })}
        </Button>
      )}
      {preview && preview.fails > 0 && !field.required && (
        <Button onClick={() => void make('blank')}>
          {say('Make it {named} and blank {fails}', {
            named,
            fails: sayCount(preview.fails, '{count} value', '{count} values'),
          })}
        </Button>
      )}
      <Button variant="text" onClick={onClose}>
        {say('Cancel')}
      </Button>
    </Trial>
  );
}
