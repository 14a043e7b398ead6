import type { Group } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { type ReactNode, useState } from 'react';
import { type Phrase, RemoveSentence, Sentence } from '../parts/index.ts';
import { linesOf } from './conditionLines.ts';
import type { Unfinished } from './conditionSlots.ts';
import ruleCss from './rule.module.css';
import { knownComparison, likelyOperator, type Side, type Sides } from './sides.ts';
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
  const lines = linesOf({ sides, titles, unfinished, setUnfinished, onStop }, where, 0, onChange);
  const last = lines.at(-1);
  const end: Phrase = tail.length > 0 ? [', ', ...tail, stop] : [stop];
  return (
    <div>
      {lines.map((line, at) => (
        <Sentence
          key={line.key}
          indent={line.depth}
          parts={[...(at === 0 ? lead : []), ...line.parts, ...(line === last ? end : [])]}
          end={
            removable &&
            line.remove && <RemoveSentence what={line.what ?? say('this condition')} onRemove={line.remove} />
          }
        />
      ))}
      {!unfinished && (
        <span className={ruleCss.conditionActs}>
          {addButton(say('+ Condition'))}
          {where.of.length > 0 && last?.group && (
            <Button variant="text" onClick={last.group}>
              {say('+ Group')}
            </Button>
          )}
          {acts}
        </span>
      )}
    </div>
  );
}
