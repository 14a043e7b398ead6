import { FIELD_TYPES, fieldType, type Settings, TYPE_GROUPS } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { currentOffice } from '@fiche/core/office';
import type { TableDefinition, TableId, Tables } from '@fiche/core/tables';
import type { SelectOption } from '../parts/index.ts';

/** A type with the settings that its column is made with. */
export interface FieldKind {
  readonly type: string;
  readonly settings: Settings;
}

/** The first letter as a capital, as a label begins. */
const capital = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

/** All field types in groups, to choose from; those that `without` names are left out. */
export function typeOptions(without: readonly string[] = []): SelectOption[] {
  return TYPE_GROUPS.flatMap((group) =>
    FIELD_TYPES.filter((one) => one.group === group && !without.includes(one.name)).map(({ name, word }) => ({
      value: name,
      label: capital(say(word)),
      group: say(group),
    })),
  );
}

/** What a type begins with when it is chosen; `targets` are the tables that a link may point at, the likeliest first. */
export function startingSettings(type: string, targets: readonly TableDefinition[]): Settings {
  const { links, starting } = fieldType(type);
  return links === undefined ? (starting?.(currentOffice().currency) ?? {}) : { table: targets[0]?.id ?? '' };
}

interface Level {
  readonly table: TableId;
  readonly column: string;
}

export const levelOf = (settings: Settings): Level | undefined => settings.level as Level | undefined;

/** A type with what belongs to it in words: `Link › Harbours`, `Decimal, 2 places`, `Choice › Defects › Part`. */
export function kindWords({ type, settings }: FieldKind, tables: Tables): string {
  const word = capital(say(fieldType(type).word));
  const level = levelOf(settings);
  if (level) {
    const list = tables.get(level.table);
    const column = list?.fields.find((one) => one.id === level.column);
    return `${word} › ${list?.label ?? level.table} › ${column?.label ?? level.column}`;
  }
  if (typeof settings.table === 'string') return `${word} › ${tables.get(settings.table)?.label ?? settings.table}`;
  return `${word}${fieldType(type).settingWords?.(settings) ?? ''}`;
}
