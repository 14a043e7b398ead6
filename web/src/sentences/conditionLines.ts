import type { Condition, Group } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import type { Phrase, Slot } from '../parts/index.ts';
import { comparisonParts, type Unfinished, unfinishedParts } from './conditionSlots.ts';
import type { Sides } from './sides.ts';

/** One line of the sentence with the acts beside it. */
interface ConditionLine {
  readonly key: string;
  readonly depth: number;
  readonly parts: Phrase;
  /** What its × removes. */
  readonly what?: string;
  remove?(): void;
  /** Puts the condition into a group with another. */
  group?(): void;
}

/** What the lines of a sentence are made of. */
export interface LineContext {
  readonly sides: Sides;
  /** Titles of the records that conditions name, by table and id. */
  readonly titles: ReadonlyMap<string, string>;
  readonly unfinished: Unfinished | undefined;
  setUnfinished(next: Unfinished | undefined): void;
  /** The first condition was given up. */
  onStop?(): void;
}

const MATCHES: Record<Group['match'], string> = {
  all: say('all of these hold'),
  any: say('any of these holds'),
  none: say('none of these holds'),
};

/** The lines of a group; `set` puts a changed group in its place. */
export function linesOf(
  context: LineContext,
  group: Group,
  depth: number,
  set: (next: Group) => void,
  path = '',
): ConditionLine[] {
  const { sides, titles, unfinished, setUnfinished, onStop } = context;
  const found: ConditionLine[] = [];
  const matched = group.match !== 'all' || depth > 0;
  const join = (at: number): string =>
    at === 0
      ? ''
      : group.match === 'all'
        ? `${say('and')} `
        : group.match === 'any'
          ? `${say('or')} `
          : `${say('nor')} `;
  if (matched)
    found.push({
      key: `${path}match`,
      depth,
      parts: [matchSlot(group, set, path), ': '],
      what: say('this group of conditions'),
      remove: () => set({ ...group, of: [] }),
    });
  const inset = (at: number): number => (matched ? depth + 1 : depth + (at > 0 ? 1 : 0));
  const more = unfinished?.group === path;
  group.of.forEach((one, at) => {
    const here = `${path}${at}-`;
    const replace = (next: Condition | undefined): void =>
      set({ ...group, of: group.of.flatMap((other, n) => (n === at ? (next ? [next] : []) : [other])) });
    if (one.kind === 'group') {
      const inner = linesOf(context, one, inset(at), (next) => replace(next.of.length === 0 ? undefined : next), here);
      const [head, ...rest] = inner;
      if (head) found.push({ ...head, parts: [join(at), ...head.parts] }, ...rest);
      if (unfinished?.group !== here)
        found.push({ key: `${here}more`, depth: inset(at) + 1, parts: [addSlot(context, here)] });
    } else {
      const comma = at < group.of.length - 1 || more ? ',' : '';
      found.push({
        key: here,
        depth: inset(at),
        parts: [join(at), ...comparisonParts(sides, titles, one, here, replace), comma],
        what: say('this condition'),
        remove: () => replace(undefined),
        group: () => {
          replace({ kind: 'group', match: 'any', of: [one] });
          setUnfinished({ group: here });
        },
      });
    }
  });
  if (more && unfinished)
    found.push({
      key: `${path}unfinished`,
      depth: inset(group.of.length),
      parts: [
        join(group.of.length),
        ...unfinishedParts(sides, unfinished, path, setUnfinished, (next) =>
          set({ ...group, of: [...group.of, next] }),
        ),
      ],
      what: say('this unfinished condition'),
      remove: () => {
        setUnfinished(undefined);
        onStop?.();
      },
    });
  return found;
}

function addSlot({ setUnfinished }: LineContext, group: string): Slot {
  return {
    key: `${group}more`,
    label: say('add to this group'),
    shown: say('+ Condition'),
    quiet: true,
    pick: { kind: 'act', run: () => setUnfinished({ group }) },
    onSet: () => undefined,
  };
}

function matchSlot(group: Group, set: (next: Group) => void, path: string): Slot {
  return {
    key: `${path}match`,
    label: say('how these conditions are combined'),
    shown: MATCHES[group.match],
    pick: {
      kind: 'options',
      current: group.match,
      options: (Object.keys(MATCHES) as Group['match'][]).map((value) => ({ value, label: MATCHES[value] })),
    },
    onSet: (value) => set({ ...group, match: value as Group['match'] }),
  };
}
