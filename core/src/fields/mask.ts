/** What a mark of an input mask stands for; any other character of the mask stands for itself. */
const MARKS: Readonly<Record<string, RegExp>> = { '0': /\d/, A: /\p{L}/u, '*': /[\p{L}\d]/u };

/** Whether a text can be a mask: it needs a place to type in. `0` is a digit, `A` a letter, `*` either. */
export const isMask = (mask: string): boolean => [...mask].some((mark) => mark in MARKS);

/**
 * Brings typed text into the form of a mask: letters in capitals, the mask's own characters put in where they were left
 * out. Undefined when it does not fit. With `AA-0000`, `gs421` does not fit, and `gs0421`, `gs 0421` and `GS-0421` are
 * all `GS-0421`.
 */
export function fitMask(typed: string, mask: string): string | undefined {
  const left = [...typed.trim()];
  let fitted = '';
  for (const mark of mask) {
    const place = MARKS[mark];
    if (!place) {
      if (left[0]?.toUpperCase() === mark.toUpperCase()) left.shift();
      else if (left[0] !== undefined && /[\s./-]/.test(left[0]) && /[\s./-]/.test(mark)) left.shift();
      fitted += mark;
      continue;
    }
    const next = left.shift()?.toUpperCase();
    if (next === undefined || !place.test(next)) return undefined;
    fitted += next;
  }
  return left.length === 0 ? fitted : undefined;
}

/** A made-up text of the form of a mask: `AA-0000` gives `AB-1234`. */
export function maskExample(mask: string): string {
  let letters = 0;
  let digits = 0;
  return [...mask]
    .map((mark) => {
      if (mark === 'A' || mark === '*') return 'ABCDEFGHJK'[letters++ % 10];
      return mark === '0' ? String(++digits % 10) : mark;
    })
    .join('');
}
