import { FIELD_TYPES, fieldType, isConvertible, type Settings } from '@fiche/core/fields';
import { formatCount } from '@fiche/core/office';
import type { FieldDefinition, TableDefinition } from '@fiche/core/tables';
import { useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { type BrokenRecord, Trial } from './Trial.tsx';
import type { ChangeTable } from './useTableWork.tsx';

interface Preview {
  readonly converts: number;
  readonly blank: number;
  readonly fails: number;
  readonly samples: readonly { from: string; to: string }[];
  readonly failing: readonly BrokenRecord[];
  readonly words: readonly string[];
}

/** The settings that a new type takes over from the old one, as far as it knows them. */
function carriedSettings(to: string, from: FieldDefinition, words: readonly string[]): Settings {
  const { settings } = from;
  const taken: Record<string, unknown> = {};
  if (to === 'decimal')
    Object.assign(taken, { places: settings.places ?? 2, ...(settings.unit ? { unit: settings.unit } : {}) });
  if (to === 'amount' && settings.places !== undefined) taken.places = settings.places;
  if (to === 'wholeNumber' && settings.unit) taken.unit = settings.unit;
  if (to === 'choice' || to === 'choices') taken.choices = settings.choices ?? words;
  return taken;
}

/** Another type for a field: what converts, with samples, what does not, and then the change. */
export function ChangeType({
  table,
  field,
  change,
  onClose,
}: {
  table: TableDefinition;
  field: FieldDefinition;
  change: ChangeTable;
  onClose(): void;
}) {
  const { cabinet } = useOffice();
  const [type, setType] = useState('');
  const [settings, setSettings] = useState<Settings>({});
  const [preview, setPreview] = useState<Preview>();
  const [trouble, setTrouble] = useState('');
  const base = `/api/tables/${table.id}/fields/${field.id}`;
  const look = async (to: string, places?: number): Promise<void> => {
    setType(to);
    setPreview(undefined);
    setTrouble('');
    if (to === '') return;
    const ask = (wanted: Settings) => send<Preview>('POST', `${base}/conversion`, { type: to, settings: wanted });
    try {
      let wanted = carriedSettings(to, field, []);
      if (places !== undefined) wanted = { ...wanted, places };
      let found = await ask(wanted);
      // The words that stand in the column become the choices.
      if ((to === 'choice' || to === 'choices') && field.settings.choices === undefined) {
        wanted = carriedSettings(to, field, found.words);
        found = await ask(wanted);
      }
      setSettings(wanted);
      setPreview(found);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  const make = async (unconverted: 'refuse' | 'blank'): Promise<void> => {
    if (await change('POST', `${base}/type`, { type, settings, unconverted, revision: table.revision })) onClose();
  };
  const n = (count: number): string => formatCount(count);
  const heading =
    preview === undefined
      ? `${field.label} becomes…`
      : preview.fails === 0
        ? `All ${n(preview.converts)} values convert${preview.blank > 0 ? `; ${n(preview.blank)} are blank` : ''}.`
        : `${n(preview.converts)} values convert, ${n(preview.fails)} do not:`;
  return (
    <Trial
      heading={heading}
      path={`/${cabinet.id}/tables/${table.id}`}
      breaks={preview?.fails ?? 0}
      examples={preview?.failing ?? []}
    >
      <label>
        to a{' '}
        <select
          aria-label={`New type of ${field.label}`}
          value={type}
          onChange={(event) => void look(event.target.value)}
        >
          <option value="">choose a type</option>
          {FIELD_TYPES.filter((one) => isConvertible(one.name)).map((one) => (
            <option key={one.name} value={one.name}>
              {one.word}
            </option>
          ))}
        </select>
      </label>
      {type === 'decimal' && (
        <label>
          of{' '}
          <select
            aria-label="Decimal places"
            value={Number(settings.places ?? 2)}
            onChange={(event) => void look(type, Number(event.target.value))}
          >
            {[0, 1, 2, 3, 4, 5, 6].map((places) => (
              <option key={places}>{places}</option>
            ))}
          </select>{' '}
          places
        </label>
      )}
      {preview && preview.samples.length > 0 && (
        <span className="faded">
          such as{' '}
          {preview.samples
            .slice(0, 3)
            .map((one) => `“${one.from}” → “${one.to}”`)
            .join(', ')}
        </span>
      )}
      {trouble && (
        <span className="ruled-problem" role="alert">
          {trouble}
        </span>
      )}
      {preview && preview.fails === 0 && (
        <button type="button" className="button main" onClick={() => void make('refuse')}>
          Make it a {fieldType(type).word}
        </button>
      )}
      {preview && preview.fails > 0 && !field.required && (
        <button type="button" className="button" onClick={() => void make('blank')}>
          Make it a {fieldType(type).word} and blank {n(preview.fails)} {preview.fails === 1 ? 'value' : 'values'}
        </button>
      )}
      <button type="button" className="button plain" onClick={onClose}>
        Leave it a {fieldType(field.type).word}
      </button>
    </Trial>
  );
}
