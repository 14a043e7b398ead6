import { linePath, showValue } from '@fiche/core/entry';
import { say } from '@fiche/core/languages';
import { typeOf } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { inputFor } from '../../inputs/index.ts';
import { describedBy, FilledDot, textCss } from '../../parts/index.ts';
import { AskedHere } from '../AskedHere.tsx';
import { inputId, isFilledByOthers } from '../focus.ts';
import { inputHandlers } from '../inputHandlers.ts';
import { filledView } from '../provenanceText.ts';
import { viewOf } from '../viewOf.ts';
import type { LineCellProps } from './lineProps.ts';
import linesCss from './lines.module.css';

/** One cell of a line: a plain input, and below it only what has to be said. */
export function LineCell({ state, field, subform, lineKey, n, problem, dispatch, onWhy, onAdd }: LineCellProps) {
  const path = linePath({ subform, key: lineKey }, field.id);
  const id = inputId(path);
  const { notice, required, origin, offer, several, dispute, lacking, ...view } = viewOf(state, field);
  const Input = inputFor(field.field.type);
  const filled = origin && filledView(state, field, origin, () => dispatch({ type: 'refilled', field: field.id }));
  const said = notice && notice !== problem?.message ? notice : undefined;
  return (
    <div
      className={clsx(
        linesCss.cell,
        problem && (problem.asks ? linesCss.asks : linesCss.wrong),
        field.readOnly && linesCss.readOnly,
        typeOf(field.field).family === 'number' && linesCss.number,
      )}
      role="cell"
      data-field={id}
      data-invalid={(problem && !problem.asks) || undefined}
      data-filled={isFilledByOthers(state.form, field.id) || undefined}
      data-line={lineKey}
      data-column={field.id}
    >
      <label className={textCss.visuallyHidden} htmlFor={id} id={`${id}-label`}>
        {say('{label}, line {n}', { label: field.label, n })}
        {required && !field.readOnly && ` ${say('(required)')}`}
      </label>
      {field.readOnly ? (
        <output className={linesCss.shown} id={id} aria-labelledby={`${id}-label`}>
          {showValue(state, field.id)}
        </output>
      ) : (
        <Input
          {...view}
          required={required}
          field={field}
          table={state.form.table.id}
          subform={subform}
          id={id}
          invalid={problem !== undefined}
          {...inputHandlers({ state, field, path, dispatch, onWhy, onAdd })}
        />
      )}
      {filled && !field.readOnly && <FilledDot filled={filled} />}
      <div id={describedBy(id)} className={linesCss.said} aria-live="polite">
        {problem && <div className={problem.asks ? textCss.asks : textCss.problem}>{problem.message}</div>}
        {said && <div className={textCss.notice}>{said}</div>}
        {filled?.differs && filled.again && (
          <Button variant="text" tabIndex={-1} onClick={filled.onAgain}>
            {filled.again}
          </Button>
        )}
      </div>
      <AskedHere
        state={state}
        field={field}
        offer={offer}
        several={several}
        dispute={dispute}
        lacking={lacking}
        dispatch={dispatch}
        onAdd={onAdd && (() => onAdd(path, ''))}
      />
    </div>
  );
}
