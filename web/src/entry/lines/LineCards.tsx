import { isPresent, showValue } from '@fiche/core/entry';
import { say } from '@fiche/core/languages';
import { clsx } from 'clsx';
import { ruledCss, textCss } from '../../parts/index.ts';
import { LineCell } from './LineCell.tsx';
import { LineActs } from './LineRows.tsx';
import type { LineProps, ShapeProps } from './lineProps.ts';
import linesCss from './lines.module.css';
import { columnsOf, isFixed, useLine } from './useLine.ts';

/** Lines as small cards, one below the other: for lines with much to say, and for narrow pages. */
export function LineCards({ entry, subform, lines, onWhy, onAdd }: ShapeProps) {
  return (
    <div role="table" aria-label={subform.label}>
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

function LineCard(props: LineProps) {
  const { subform, line, at } = props;
  const { cell, elsewhere } = useLine(props);
  const there = isPresent(line);
  return (
    <div className={clsx(linesCss.card, !there && linesCss.blank)} role="row" inert={isFixed(subform, line)}>
      <div className={linesCss.cardHead} role="cell">
        <span className={textCss.faded}>
          {there ? say('Line {line}', { line: at + 1 }) : at > 0 && say('One more')}
        </span>
        <span className={linesCss.acts}>{there && <LineActs {...props} />}</span>
      </div>
      <div className={linesCss.cardFields}>
        {columnsOf(subform)
          .filter((field) => !line.state.hidden[field.id])
          .filter((field) => !field.readOnly || showValue(line.state, field.id) !== '')
          .map((field) => (
            <div key={field.id}>
              <span className={ruledCss.label} aria-hidden="true">
                {field.required && !field.readOnly && <span className={clsx(textCss.tick, linesCss.tick)} />}
                {field.label}
              </span>
              <LineCell {...cell(field)} />
            </div>
          ))}
      </div>
      {elsewhere.map((one) => (
        <p key={one.rule} className={textCss.problem} role="cell">
          {one.message}
        </p>
      ))}
    </div>
  );
}
