import {
  type Comparison,
  type Condition,
  type Group,
  type Operator,
  operatorsFor,
  operatorWords,
} from '@fiche/core/conditions';
import { targetTable } from '@fiche/core/tables';
import { useQueries } from '@tanstack/react-query';
import { send } from '../client/index.ts';
import { type Phrase, Sentence, type Slot } from '../parts/index.ts';
import {
  familyOfSide,
  likelyComparison,
  operandWords,
  readKey,
  rightOptions,
  type Side,
  type Sides,
  sideAt,
  typedOptions,
  withOperator,
} from './sides.ts';

export interface ConditionSentencesProps {
  readonly sides: Sides;
  readonly where: Group;
  onChange(where: Group): void;
  /** The words before the first condition: `Offer Berths whose`. */
  readonly lead: Phrase;
  /** What follows the last one, after a comma: `sorted by …`. */
  readonly tail?: Phrase;
  /** What the condition is about: says what another line adds. */
  readonly addLabel: string;
  /** Which field the first condition begins with, when there is none. */
  readonly begin?: Side;
  /** Without a condition the sentence says this. */
  readonly none?: Phrase;
}

const REMOVE = 'remove';
const GROUP = 'group';
const MATCHES: Record<Group['match'], string> = {
  all: 'all of these hold',
  any: 'any of these holds',
  none: 'none of these holds',
};

/** A tree of conditions read and set as one sentence: a line for each, with commas, groups set in. */
export function ConditionSentences(props: ConditionSentencesProps) {
  const { sides, where, onChange, lead, tail = [], addLabel, begin, none } = props;
  const titles = useRecordTitles(sides, where);
  const first = begin ?? likelySide(sides, where);
  const add = (group: Group): Group => ({
    ...group,
    of: [...group.of, likelyComparison(sides, first ?? (sides.left[0] as Side))],
  });
  if (where.of.length === 0)
    return (
      <>
        {none && <Sentence parts={none} />}
        {first && (
          <button type="button" className="link" onClick={() => onChange(add(where))}>
            {addLabel}
          </button>
        )}
      </>
    );
  const lines = linesOf(where, 0, onChange);
  const last = lines.at(-1);
  // A group ends with the way to add to it: what follows the conditions then stands in a line of its own.
  const endsInGroup = where.of.at(-1)?.kind === 'group';
  const end: Phrase = tail.length > 0 ? [', ', ...tail, '.'] : ['.'];
  return (
    <>
      <div className="conditions">
        {lines.map((line, at) => (
          <Sentence
            key={line.key}
            indent={line.depth}
            parts={[...(at === 0 ? lead : []), ...line.parts, ...(line === last && !endsInGroup ? end : [])]}
          />
        ))}
        {endsInGroup && tail.length > 0 && <Sentence parts={['All of it ', ...tail, '.']} />}
      </div>
      <button type="button" className="link" onClick={() => onChange(add(where))}>
        And another condition
      </button>
    </>
  );

  interface Line {
    readonly key: string;
    readonly depth: number;
    readonly parts: Phrase;
  }

  /** The lines of a group; `set` puts a changed group in its place. */
  function linesOf(group: Group, depth: number, set: (next: Group) => void, path = ''): Line[] {
    const found: Line[] = [];
    const matched = group.match !== 'all' || depth > 0;
    if (matched) found.push({ key: `${path}match`, depth, parts: [matchSlot(group, set, path), ': '] });
    group.of.forEach((one, at) => {
      const here = `${path}${at}-`;
      const join = at === 0 ? '' : group.match === 'all' ? 'and ' : group.match === 'any' ? 'or ' : 'nor ';
      const comma = at < group.of.length - 1 && one.kind === 'compare' ? ',' : '';
      const replace = (next: Condition | undefined): void =>
        set({ ...group, of: group.of.flatMap((other, n) => (n === at ? (next ? [next] : []) : [other])) });
      const inset = matched ? depth + 1 : depth + (at > 0 ? 1 : 0);
      if (one.kind === 'group') {
        const inner = linesOf(one, inset, (next) => replace(next.of.length === 0 ? undefined : next), here);
        const [head, ...rest] = inner;
        if (head) found.push({ ...head, parts: [join, ...head.parts] }, ...rest);
        found.push({
          key: `${here}more`,
          depth: inset + 1,
          parts: [{ ...plain(`${here}more`, 'add to this group', 'and another here'), onSet: () => replace(add(one)) }],
        });
      } else found.push({ key: here, depth: inset, parts: [join, ...comparisonParts(one, here, replace), comma] });
    });
    return found;
  }

  function matchSlot(group: Group, set: (next: Group) => void, path: string): Slot {
    return {
      key: `${path}match`,
      label: 'how these conditions are combined',
      shown: MATCHES[group.match],
      pick: {
        kind: 'options',
        current: group.match,
        options: [
          ...(Object.keys(MATCHES) as Group['match'][]).map((value) => ({ value, label: MATCHES[value] })),
          { value: REMOVE, label: 'take the whole group away' },
        ],
      },
      onSet: (value) => set(value === REMOVE ? { ...group, of: [] } : { ...group, match: value as Group['match'] }),
    };
  }

  function comparisonParts(one: Comparison, path: string, replace: (next: Condition | undefined) => void): Phrase {
    const left = sideAt(sides.left, one.left);
    const family = familyOfSide(left);
    const leftSlot: Slot = {
      key: `${path}left`,
      label: sides.leftKind === 'choices' ? 'column of the choices' : 'field of this form',
      side: sides.leftKind,
      shown: operandWords(sides, one.left, left),
      pick: {
        kind: 'options',
        current: JSON.stringify(one.left),
        options: [
          ...sides.left.map((side) => ({
            value: JSON.stringify(side.operand),
            label: side.label,
            detail: side.detail,
          })),
          { value: GROUP, label: 'set it into a group', detail: 'all, any or none of several' },
          { value: REMOVE, label: 'take this condition away' },
        ],
      },
      onSet: (value) => {
        if (value === REMOVE) return replace(undefined);
        if (value === GROUP) return replace({ kind: 'group', match: 'any', of: [one] });
        const side = sideAt(sides.left, readKey(value));
        if (side) replace(likelyComparison(sides, side));
      },
    };
    const operator: Slot = {
      key: `${path}operator`,
      label: 'comparison',
      shown: operatorWords(one.operator, family),
      pick: {
        kind: 'options',
        current: one.operator,
        options: operatorsFor(family).map((value) => ({ value, label: operatorWords(value, family) })),
      },
      onSet: (value) => replace(withOperator(sides, one, value as Operator)),
    };
    if (!('right' in one)) return [leftSlot, ' ', operator];
    const { right } = one;
    const isField = right.kind === 'form' || right.kind === 'enclosing';
    const word = sideAt(sides.right, right)?.word ?? sides.word;
    const title = right.kind === 'constant' ? titles.get(`${targetTable(left?.field)} ${right.value}`) : undefined;
    const rightSlot: Slot = {
      key: `${path}right`,
      label: isField && sides.word ? 'this form’s field, or a value' : 'field or value to compare with',
      side: isField ? 'form' : undefined,
      shown: operandWords(sides, right, left, title),
      pick: {
        kind: 'options',
        current: JSON.stringify(right),
        options: left ? rightOptions(sides, left, one.operator) : [],
        typed: left ? (text) => typedOptions(sides, left, text) : undefined,
      },
      onSet: (value) => replace({ ...one, right: readKey(value) } as Comparison),
    };
    return [leftSlot, ' ', operator, ' ', ...(isField && word ? [word] : []), rightSlot];
  }
}

const plain = (key: string, label: string, shown: string): Omit<Slot, 'onSet'> => ({
  key,
  label,
  shown,
  quiet: true,
  pick: { kind: 'options', options: [{ value: 'add', label: 'Add a condition to this group' }] },
});

/** The side that a new condition most likely begins with: in a narrowing, a column that this form can answer. */
function likelySide(sides: Sides, where: Group): Side | undefined {
  const used = new Set(where.of.map((one) => (one.kind === 'compare' ? JSON.stringify(one.left) : '')));
  const open = sides.left.filter((side) => !used.has(JSON.stringify(side.operand)));
  const answered = (side: Side): boolean => 'right' in likelyComparison(sides, side);
  return (
    open.find((side) => side.field.type === 'link' && answered(side)) ?? open.find(answered) ?? open[0] ?? sides.left[0]
  );
}

/** The titles of the records that constants of a condition name, by `table id`. */
function useRecordTitles(sides: Sides, where: Group): ReadonlyMap<string, string> {
  const wanted = new Map<string, { table: string; id: number }>();
  const visit = (condition: Condition): void => {
    if (condition.kind === 'group') {
      for (const one of condition.of) visit(one);
      return;
    }
    const table = targetTable(sideAt(sides.left, condition.left)?.field);
    if ('right' in condition && condition.right.kind === 'constant' && table !== undefined)
      wanted.set(`${table} ${condition.right.value}`, { table, id: Number(condition.right.value) });
  };
  visit(where);
  const keys = [...wanted.keys()];
  const answers = useQueries({
    queries: [...wanted.values()].map(({ table, id }) => ({
      queryKey: ['title', table, id],
      queryFn: () => send<{ title: string }>('GET', `/api/tables/${table}/records/${id}`),
      retry: false,
    })),
  });
  return new Map(keys.flatMap((one, at) => (answers[at]?.data ? [[one, answers[at].data.title]] : [])));
}
