/**
 * Reads a number as people write it: `12`, `-3.5`, `1,234.50`, `1 234.5`, and a comma as decimal mark where it cannot
 * be a thousands mark (`12,5`). Returns undefined for anything else.
 */
export function readNumber(text: string): number | undefined {
  const plain = text
    .trim()
    .replace(/^[−–]/, '-')
    .replaceAll(/[\s\u00a0\u202f']/g, '');
  if (/^-?[1-9]\d{0,2}(,\d{3})+(\.\d+)?$/.test(plain)) return Number(plain.replaceAll(',', ''));
  if (/^-?\d+,\d+$/.test(plain)) return Number(plain.replace(',', '.'));
  if (/^-?(\d+(\.\d*)?|\.\d+)$/.test(plain)) return Number(plain);
  return undefined;
}

/** The least and most limits of a number or of a date's text, each with a message that shows the limit. */
export function checkRange<T extends number | string>(
  value: T,
  least: T | undefined,
  most: T | undefined,
  show: (limit: T) => string,
): { rule: string; message: string }[] {
  if (least !== undefined && value < least) return [{ rule: 'least', message: `At least ${show(least)}.` }];
  if (most !== undefined && value > most) return [{ rule: 'most', message: `At most ${show(most)}.` }];
  return [];
}
