import { type Comparison, type Condition, type Operator, operatorsFor, operatorWords } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import { targetTable } from '@fiche/core/tables';
import type { Phrase, Slot } from '../parts/index.ts';
import {
  familyOfSide,
  operandWords,
  readKey,
  rightOptions,
  type Side,
  type Sides,
  sideAt,
  typedOptions,
  withOperator,
} from './sides.ts';

/** A condition that is being written: its slots are filled one after another, and it counts when it is complete. */
export interface Unfinished {
  /** The path of the group that it joins: `''` for the outermost. */
  readonly group: string;
  readonly left?: Side;
  readonly operator?: Operator;
}

/** The slot of the left side of a condition. */
function leftPick(sides: Sides, key: string): Omit<Slot, 'shown' | 'onSet'> {
  return {
    key,
    label: sides.leftKind === 'choices' ? say('column of the choices') : say('field of this form'),
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

/** The slot of the comparison of a condition. */
function operatorPick(key: string, left: Side | undefined, current: Operator): Omit<Slot, 'onSet'> {
  const family = familyOfSide(left);
  return {
    key,
    label: say('comparison'),
    shown: operatorWords(current, family),
    pick: {
      kind: 'options',
      current,
      options: operatorsFor(family).map((value) => ({ value, label: operatorWords(value, family) })),
    },
  };
}

/** The slots of a complete condition; `titles` are those of the records that it names. */
export function comparisonParts(
  sides: Sides,
  titles: ReadonlyMap<string, string>,
  one: Comparison,
  path: string,
  replace: (next: Condition | undefined) => void,
): Phrase {
  const left = sideAt(sides.left, one.left, sides.tables);
  const leftSlot: Slot = {
    ...leftPick(sides, `${path}left`),
    shown: operandWords(sides, one.left, left),
    onSet: (value) => {
      const side = sideAt(sides.left, readKey(value), sides.tables);
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
  const word = sideAt(sides.right, right, sides.tables)?.word ?? sides.word;
  const title = right.kind === 'constant' ? titles.get(`${targetTable(left?.field)} ${right.value}`) : undefined;
  const rightSlot: Slot = {
    key: `${path}right`,
    label: isField && sides.word ? say('this form’s field, or a value') : say('field or value to compare with'),
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

/** The slots of a condition that is being written; `done` takes it when the last one is filled. */
export function unfinishedParts(
  sides: Sides,
  unfinished: Unfinished,
  path: string,
  set: (next: Unfinished | undefined) => void,
  done: (next: Comparison) => void,
): Phrase {
  const { left, operator } = unfinished;
  const finish = (next: Comparison): void => {
    set(undefined);
    done(next);
  };
  const leftSlot: Slot = {
    ...leftPick(sides, `${path}new-left`),
    shown: left
      ? operandWords(sides, left.operand, left)
      : sides.leftKind === 'choices'
        ? say('a column')
        : say('a field'),
    quiet: left === undefined,
    open: left === undefined,
    onSet: (value) => {
      const side = sideAt(sides.left, readKey(value), sides.tables);
      const [first] = operatorsFor(familyOfSide(side));
      // Who picks a yes/no means that it is yes; the slot of its value stays to be set to no.
      if (side && familyOfSide(side) === 'yesNo')
        finish({ kind: 'compare', left: side.operand, operator: 'is', right: { kind: 'constant', value: true } });
      else set({ group: path, left: side, operator: first });
    },
  };
  if (!left) return [leftSlot];
  const now = operator ?? operatorsFor(familyOfSide(left))[0] ?? 'is';
  const operatorSlot: Slot = {
    ...operatorPick(`${path}new-operator`, left, now),
    onSet: (value) =>
      value === 'isBlank' || value === 'isNotBlank'
        ? finish({ kind: 'compare', left: left.operand, operator: value })
        : set({ group: path, left, operator: value as Operator }),
  };
  const rightSlot: Slot = {
    key: `${path}new-right`,
    label: say('field or value to compare with'),
    shown: say('a value'),
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
