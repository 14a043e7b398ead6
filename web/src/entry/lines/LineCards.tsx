import { counts, type Line, showValue } from '@fiche/core/entry';
import type { PreparedSubform } from '@fiche/core/forms';
import type { Entry } from '../useEntry.ts';
import { LineCell } from './LineCell.tsx';
import { LineActs, type ShapeProps } from './LineRows.tsx';
import { columnsOf, useLine } from './useLine.ts';

/** Lines as small cards, one below the other: for lines with much to say, and for narrow pages. */
export function LineCards({ entry, subform, lines, onWhy, onAdd }: ShapeProps) {
  return (
    <div className="line-cards" role="table" aria-label={subform.label}>
      {lines.map((line, at) => (
        <LineCard
          key={line.key}
          dispatch={entry.dispatch}
          subform={subform}
          line={line}
          at={at}
          onWhy={onWhy}
          onAdd={onAdd}
        />
      ))}
    </div>
  );
}

interface CardProps {
  readonly dispatch: Entry['dispatch'];
  readonly subform: PreparedSubform;
  readonly line: Line;
  readonly at: number;
  onWhy?(path: string): void;
  onAdd?(path: string, text: string): void;
}

function LineCard({ dispatch, subform, line, at, onWhy, onAdd }: CardProps) {
  const { tell, problems, elsewhere } = useLine(dispatch, subform.id, line);
  const there = counts(line);
  return (
    <div className={`line-card${there ? '' : ' blank'}`} role="row">
      <div className="line-card-head" role="cell">
        <span className="faded">{there ? `Line ${at + 1}` : 'One more'}</span>
        <span className="line-acts">
          {there && <LineActs dispatch={dispatch} subform={subform.id} line={line} at={at} />}
        </span>
      </div>
      <div className="line-card-fields">
        {columnsOf(subform)
          .filter((field) => !line.state.hidden[field.id])
          .map((field) =>
            field.readOnly && showValue(line.state, field.id) === '' ? null : (
              <div key={field.id} className="line-card-field">
                <span className="ruled-label" aria-hidden="true">
                  {field.required && !field.readOnly && <span className="tick" />}
                  {field.label}
                </span>
                <LineCell
                  state={line.state}
                  field={field}
                  subform={subform.id}
                  lineKey={line.key}
                  n={at + 1}
                  problem={problems.get(field.id)}
                  dispatch={tell}
                  onWhy={onWhy}
                  onAdd={onAdd}
                />
              </div>
            ),
          )}
      </div>
      {elsewhere.map((one) => (
        <p key={one.rule} className="ruled-problem" role="cell">
          {one.message}
        </p>
      ))}
    </div>
  );
}
