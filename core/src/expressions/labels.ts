import type { FieldDefinition } from '../tables/index.ts';

/** A name that people may write by its label: a field, or the lines of a subform with their columns. */
interface Named {
  readonly id: string;
  readonly label: string;
}

/** Signs that people write, and what CEL calls them. */
const SIGNS: Readonly<Record<string, string>> = {
  '×': '*',
  '·': '*',
  '÷': '/',
  '−': '-',
  '–': '-',
  '≤': '<=',
  '≥': '>=',
  '≠': '!=',
  '“': '"',
  '”': '"',
};

const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&').replace(/\s+/g, '\\s+');

/**
 * A formula as people write it, as CEL: labels become the names of their fields (`Quantity × Price` becomes
 * `quantity * price`), signs become CEL’s. Text between quotes stays; names stay. The longest label counts first, in
 * any case of letters; after a dot only the columns of `columns` are looked up.
 */
export function acceptLabels(
  source: string,
  fields: readonly Pick<FieldDefinition, 'id' | 'label'>[],
  columns: readonly Pick<FieldDefinition, 'id' | 'label'>[] = [],
): string {
  const quoted = /("(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*')/;
  return signs(source)
    .split(quoted)
    .map((part, at) => (at % 2 === 1 ? part : named(named(part, columns, true), fields, false)))
    .join('');
}

const signs = (source: string): string => [...source].map((sign) => SIGNS[sign] ?? sign).join('');

/** Replaces the labels of some names: only those after a dot, or only those that follow none. */
function named(text: string, names: readonly Named[], afterDot: boolean): string {
  const ids = new Set(names.map((one) => one.id));
  const byLabel = new Map(
    names
      .map((one) => [one.label.trim().replace(/\s+/g, ' ').toLowerCase(), one.id] as const)
      .filter(([label, id]) => label !== '' && (label === id || !ids.has(label))),
  );
  if (byLabel.size === 0) return text;
  const longestFirst = [...byLabel.keys()].sort((a, b) => b.length - a.length).map(escaped);
  const before = afterDot ? '(?<=\\.\\s*)' : '(?<![\\p{L}\\p{N}_.])';
  const labels = new RegExp(`${before}(?:${longestFirst.join('|')})(?![\\p{L}\\p{N}_(])`, 'giu');
  return text.replace(labels, (found) => byLabel.get(found.replace(/\s+/g, ' ').toLowerCase()) ?? found);
}
