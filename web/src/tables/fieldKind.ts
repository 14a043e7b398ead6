import { FIELD_TYPES, fieldType, type Settings } from '@fiche/core/fields';
import { currentOffice } from '@fiche/core/office';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import type { SelectOption } from '../parts/index.ts';

/** A type with the settings that its column is made with. */
export interface FieldKind {
  readonly type: string;
  readonly settings: Settings;
}

const GROUPS: readonly (readonly [group: string, types: readonly string[]])[] = [
  ['Text', ['text', 'longText', 'email', 'phone', 'webAddress']],
  ['Numbers', ['wholeNumber', 'decimal', 'amount', 'percent', 'rating']],
  ['Dates and times', ['date', 'time', 'dateTime']],
  ['Choices', ['yesNo', 'choice', 'choices']],
  ['Links', ['link', 'links', 'account']],
];

/** The first letter as a capital, as a label begins. */
export const capital = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

/** All field types in groups, to choose from; those that `without` names are left out. */
export function typeOptions(without: readonly string[] = []): SelectOption[] {
  const grouped = new Set(GROUPS.flatMap(([, types]) => types));
  const rest = FIELD_TYPES.map((one) => one.name).filter((name) => !grouped.has(name) && name !== 'calculated');
  return [...GROUPS, ['Other', rest] as const].flatMap(([group, types]) =>
    types
      .filter((name) => !without.includes(name))
      .map((name) => ({ value: name, label: capital(fieldType(name).word), group })),
  );
}

/** What a type begins with when it is chosen; `targets` are the tables that a link may point at, the likeliest first. */
export function startingSettings(type: string, targets: readonly TableDefinition[]): Settings {
  if (type === 'link' || type === 'links') return { table: targets[0]?.id ?? '' };
  if (type === 'choice' || type === 'choices') return { choices: [] };
  if (type === 'decimal') return { places: 2 };
  if (type === 'amount') return { currency: currentOffice().currency };
  return type === 'sequence' ? { prefix: '', withYear: true } : {};
}

interface Level {
  readonly table: string;
  readonly column: string;
}

export const levelOf = (settings: Settings): Level | undefined => settings.level as Level | undefined;

/** A type with what belongs to it in words: `Link › Harbours`, `Decimal, 2 places`, `Choice › Defects › Part`. */
export function kindWords({ type, settings }: FieldKind, tables: Tables): string {
  const word = capital(fieldType(type).word);
  const level = levelOf(settings);
  if (level) {
    const list = tables.get(level.table);
    const column = list?.fields.find((one) => one.id === level.column);
    return `${word} › ${list?.label ?? level.table} › ${column?.label ?? level.column}`;
  }
  if (typeof settings.table === 'string') return `${word} › ${tables.get(settings.table)?.label ?? settings.table}`;
  if (typeof settings.currency === 'string') return `${word} in ${settings.currency}`;
  if (type === 'decimal') return `${word}, ${settings.places} ${settings.places === 1 ? 'place' : 'places'}`;
  if (type === 'rating') return `${word}, 1 to ${settings.most ?? 5}`;
  return word;
}
