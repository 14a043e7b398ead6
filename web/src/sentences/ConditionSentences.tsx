import {
  type Comparison,
  type Condition,
  type Group,
  type Operator,
  operatorsFor,
  operatorWords,
} from '@fiche/core/conditions';
import { targetTable } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { type ReactNode, useState } from 'react';
import { type Phrase, RemoveSentence, Sentence, type Slot } from '../parts/index.ts';
import {
  familyOfSide,
  knownComparison,
  likelyOperator,
  operandWords,
  readKey,
  rightOptions,
  type Side,
  type Sides,
  sideAt,
  typedOptions,
  withOperator,
} from './sides.ts';
import { useRecordTitles } from './useRecordTitles.ts';

export interface ConditionSentencesProps {
  readonly sides: Sides;
  readonly where: Group;
  onChange(where: Group): void;
  /** The words before the first condition: `Offer Berths whose`. */
  readonly lead: Phrase;
  /** What follows the last one, after a comma: `sorted by …`. */
  readonly tail?: Phrase;
  /** The words of the button that adds the first condition. */
  readonly addLabel: string;
  /** Which field the first condition begins with; otherwise it is chosen. */
  readonly begin?: Side;
  /** Without a condition the sentence says this. */
  readonly none?: Phrase;
  /** The first condition is being written from the start; `onStop` is called when it is given up. */
  readonly starts?: boolean;
  onStop?(): void;
  /** A single condition has no × of its own: what it belongs to is removed as a whole. */
  readonly keepsOne?: boolean;
  /** What ends the sentence: a comma where another part follows. */
  readonly stop?: '.' | ',';
  /** Further acts, beside those that add conditions. */
  readonly acts?: ReactNode;
}

const MATCHES: Record<Group['match'], string> = {
  all: 'all of these hold',
  any: 'any of these holds',
  none: 'none of these holds',
};

/** A condition that is being written: its slots are filled one after another, and it counts when it is complete. */
interface Unfinished {
  /** The path of the group that it joins: `''` for the outermost. */
  readonly group: string;
  readonly left?: Side;
  readonly operator?: Operator;
}

/** One line of the sentence with the acts beside it. */
interface Line {
  readonly key: string;
  readonly depth: number;
  readonly parts: Phrase;
  /** What its × removes. */
  readonly what?: string;
  remove?(): void;
  /** Puts the condition into a group with another. */
  group?(): void;
}

/** A tree of conditions read and set as one sentence: a line for each with its own ×, groups set in. */
export function ConditionSentences(props: ConditionSentencesProps) {
  const { sides, where, onChange, lead, tail = [], addLabel, begin, none, starts, onStop, keepsOne, acts } = props;
  const { stop = '.' } = props;
  const titles = useRecordTitles(sides, where);
  const [unfinished, setUnfinished] = useState<Unfinished | undefined>(
    starts ? { group: '', left: begin, operator: begin && likelyOperator(begin) } : undefined,
  );
  const known = where.of.length === 0 ? knownComparison(sides) : undefined;
  /** Adds what a narrowing most likely means at once; anything else begins with empty slots. */
  const add = (group: string): void => {
    if (known && group === '') onChange({ ...where, of: [...where.of, known] });
    else setUnfinished({ group, left: where.of.length === 0 ? begin : undefined });
  };
  const addButton = (label: string, group = '') => (
    <Button variant="text" disabled={sides.left.length === 0} onClick={() => add(group)}>
      {label}
    </Button>
  );
  if (where.of.length === 0 && !unfinished)
    return (
      <>
        {none && <Sentence parts={none} />}
        {addButton(addLabel)}
      </>
    );
  const removable = !(keepsOne && where.of.length === 1 && !unfinished);
  const lines = linesOf(where, 0, onChange);
  const last = lines.at(-1);
  const end: Phrase = tail.length > 0 ? [', ', ...tail, stop] : [stop];
  return (
    <div className="conditions">
      {lines.map((line, at) => (
        <Sentence
          key={line.key}
          indent={line.depth}
          parts={[...(at === 0 ? lead : []), ...line.parts, ...(line === last ? end : [])]}
          end={
            removable && line.remove && <RemoveSentence what={line.what ?? 'this condition'} onRemove={line.remove} />
          }
        />
      ))}
      {!unfinished && (
        <span className="condition-acts">
          {addButton('+ Condition')}
          {where.of.length > 0 && last?.group && (
            <Button variant="text" onClick={last.group}>
              + Group
            </Button>
          )}
          {acts}
        </span>
      )}
    </div>
  );

  /** The lines of a group; `set` puts a changed group in its place. */
  function linesOf(group: Group, depth: number, set: (next: Group) => void, path = ''): Line[] {
    const found: Line[] = [];
    const matched = group.match !== 'all' || depth > 0;
    const join = (at: number): string =>
      at === 0 ? '' : group.match === 'all' ? 'and ' : group.match === 'any' ? 'or ' : 'nor ';
    if (matched)
      found.push({
        key: `${path}match`,
        depth,
        parts: [matchSlot(group, set, path), ': '],
        what: 'this group of conditions',
        remove: () => set({ ...group, of: [] }),
      });
    const inset = (at: number): number => (matched ? depth + 1 : depth + (at > 0 ? 1 : 0));
    const more = unfinished?.group === path;
    group.of.forEach((one, at) => {
      const here = `${path}${at}-`;
      const replace = (next: Condition | undefined): void =>
        set({ ...group, of: group.of.flatMap((other, n) => (n === at ? (next ? [next] : []) : [other])) });
      if (one.kind === 'group') {
        const inner = linesOf(one, inset(at), (next) => replace(next.of.length === 0 ? undefined : next), here);
        const [head, ...rest] = inner;
        if (head) found.push({ ...head, parts: [join(at), ...head.parts] }, ...rest);
        if (unfinished?.group !== here)
          found.push({ key: `${here}more`, depth: inset(at) + 1, parts: [addSlot(here)] });
      } else {
        const comma = at < group.of.length - 1 || more ? ',' : '';
        found.push({
          key: here,
          depth: inset(at),
          parts: [join(at), ...comparisonParts(one, here, replace), comma],
          what: 'this condition',
          remove: () => replace(undefined),
          group: () => {
            replace({ kind: 'group', match: 'any', of: [one] });
            setUnfinished({ group: here });
          },
        });
      }
    });
    if (more)
      found.push({
        key: `${path}unfinished`,
        depth: inset(group.of.length),
        parts: [join(group.of.length), ...unfinishedParts(path, (next) => set({ ...group, of: [...group.of, next] }))],
        what: 'this unfinished condition',
        remove: () => {
          setUnfinished(undefined);
          onStop?.();
        },
      });
    return found;
  }

  function addSlot(group: string): Slot {
    return {
      key: `${group}more`,
      label: 'add to this group',
      shown: '+ Condition',
      quiet: true,
      pick: { kind: 'act', run: () => setUnfinished({ group }) },
      onSet: () => undefined,
    };
  }

  /** The slots of a condition that is being written; `done` takes it when the last one is filled. */
  function unfinishedParts(path: string, done: (next: Comparison) => void): Phrase {
    const { left, operator } = unfinished ?? {};
    const finish = (next: Comparison): void => {
      setUnfinished(undefined);
      done(next);
    };
    const leftSlot: Slot = {
      ...leftPick(`${path}new-left`),
      shown: left ? operandWords(sides, left.operand, left) : sides.leftKind === 'choices' ? 'a column' : 'a field',
      quiet: left === undefined,
      open: left === undefined,
      onSet: (value) => {
        const side = sideAt(sides.left, readKey(value));
        const [first] = operatorsFor(familyOfSide(side));
        // Who picks a yes/no means that it is yes; the slot of its value stays to be set to no.
        if (side && familyOfSide(side) === 'yesNo')
          finish({ kind: 'compare', left: side.operand, operator: 'is', right: { kind: 'constant', value: true } });
        else setUnfinished({ group: path, left: side, operator: first });
      },
    };
    if (!left) return [leftSlot];
    const now = operator ?? operatorsFor(familyOfSide(left))[0] ?? 'is';
    const operatorSlot: Slot = {
      ...operatorPick(`${path}new-operator`, left, now),
      onSet: (value) =>
        value === 'isBlank' || value === 'isNotBlank'
          ? finish({ kind: 'compare', left: left.operand, operator: value })
          : setUnfinished({ group: path, left, operator: value as Operator }),
    };
    const rightSlot: Slot = {
      key: `${path}new-right`,
      label: 'field or value to compare with',
      shown: 'a value',
      quiet: true,
      open: true,
      pick: {
        kind: 'options',
        options: rightOptions(sides, left, now),
        typed: (text) => typedOptions(sides, left, text),
      },
      onSet: (value) =>
        finish({ kind: 'compare', left: left.operand, operator: now, right: readKey(value) } as Comparison),
    };
    return [leftSlot, ' ', operatorSlot, ' ', rightSlot];
  }

  function matchSlot(group: Group, set: (next: Group) => void, path: string): Slot {
    return {
      key: `${path}match`,
      label: 'how these conditions are combined',
      shown: MATCHES[group.match],
      pick: {
        kind: 'options',
        current: group.match,
        options: (Object.keys(MATCHES) as Group['match'][]).map((value) => ({ value, label: MATCHES[value] })),
      },
      onSet: (value) => set({ ...group, match: value as Group['match'] }),
    };
  }

  function leftPick(key: string): Omit<Slot, 'shown' | 'onSet'> {
    return {
      key,
      label: sides.leftKind === 'choices' ? 'column of the choices' : 'field of this form',
      side: sides.leftKind,
      pick: {
        kind: 'options',
        options: sides.left.map((side) => ({
          value: JSON.stringify(side.operand),
          label: side.label,
          detail: side.detail,
        })),
      },
    };
  }

  function operatorPick(key: string, left: Side | undefined, current: Operator): Omit<Slot, 'onSet'> {
    const family = familyOfSide(left);
    return {
      key,
      label: 'comparison',
      shown: operatorWords(current, family),
      pick: {
        kind: 'options',
        current,
        options: operatorsFor(family).map((value) => ({ value, label: operatorWords(value, family) })),
      },
    };
  }

  function comparisonParts(one: Comparison, path: string, replace: (next: Condition | undefined) => void): Phrase {
    const left = sideAt(sides.left, one.left);
    const leftSlot: Slot = {
      ...leftPick(`${path}left`),
      shown: operandWords(sides, one.left, left),
      onSet: (value) => {
        const side = sideAt(sides.left, readKey(value));
        if (!side || JSON.stringify(side.operand) === JSON.stringify(one.left)) return;
        const [first] = operatorsFor(familyOfSide(side));
        replace(withOperator(sides, { kind: 'compare', left: side.operand, operator: 'isNotBlank' }, first ?? 'is'));
      },
    };
    const operator: Slot = {
      ...operatorPick(`${path}operator`, left, one.operator),
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
