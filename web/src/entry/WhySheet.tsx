import type { WhyView } from '@fiche/core/api';
import { type EntryState, effectiveValues, readable, splitPath } from '@fiche/core/entry';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { FieldId } from '@fiche/core/tables';
import { clsx } from 'clsx';
import { useEffect, useState } from 'react';
import { send } from '../client/index.ts';
import { findingCss, Sheet, sayWith, textCss } from '../parts/index.ts';
import whyCss from './why.module.css';

interface Props {
  readonly state: EntryState;
  /** The field, or the path of a field of a line. */
  readonly field: FieldId;
  /** Where the form runs. */
  readonly base: string;
  readonly formVersion?: number | null;
  onClose(): void;
}

const STATES: Record<WhyView['steps'][number]['state'], string> = {
  counts: '',
  open: say('narrows nothing while this is blank'),
  through: say('is blank, so what narrows it counts instead'),
};

/** Why a dropdown offers what it offers: its conditions one after another, what they used, and what each one left. */
export function WhySheet({ state: whole, field: path, base, formVersion, onClose }: Props) {
  const at = splitPath(path);
  const line = at && whole.lines[at.line.subform]?.find((one) => one.key === at.line.key);
  const [state, field] = line ? [line.state, at.path] : [whole, path];
  const subform = at?.line.subform;
  const around = JSON.stringify(line ? effectiveValues(readable(whole)) : {});
  const [why, setWhy] = useState<WhyView>();
  const [trouble, setTrouble] = useState('');
  const values = JSON.stringify(effectiveValues(readable(state)));
  useEffect(() => {
    let stale = false;
    send<WhyView>('POST', `${base}/why`, {
      field,
      formVersion: formVersion ?? undefined,
      within: subform === undefined ? undefined : { subform, values: JSON.parse(around) as Record<string, unknown> },
      values: JSON.parse(values) as Record<string, unknown>,
    }).then(
      (answer) => {
        if (stale) return;
        setWhy(answer);
        setTrouble('');
      },
      (error: Error) => !stale && setTrouble(error.message),
    );
    return () => {
      stale = true;
    };
  }, [base, field, formVersion, values, subform, around]);
  const label = state.form.fields.get(field)?.label ?? field;
  const count = (n: number): string =>
    why && n >= why.most ? say('{n} or more', { n: formatCount(n) }) : formatCount(n);
  const end = why?.steps.at(-1)?.left ?? why?.all ?? 0;
  return (
    <Sheet title={say('Why these choices?')} label={say('Why these choices for {label}?', { label })} onClose={onClose}>
      <p>
        {why
          ? sayWith('{label} offers {offered} of {all}.', {
              label: <strong>{label}</strong>,
              offered: count(end),
              all: count(why.all),
            })
          : sayWith('{label} offers {offered}.', { label: <strong>{label}</strong>, offered: '…' })}
      </p>
      {trouble && <p role="alert">{trouble}</p>}
      {why && (
        <ol className={whyCss.steps}>
          <li>
            <span className={whyCss.left}>{count(why.all)}</span>
            <span>
              {say('all {of} in use', { of: why.of })}
              {why.steps.length === 0 && <small className={whyCss.used}>{say('Nothing narrows this dropdown.')}</small>}
            </span>
          </li>
          {why.steps.map((step, at) => (
            <li
              key={step.words}
              className={step.left === 0 && (why.steps[at - 1]?.left ?? why.all) > 0 ? whyCss.noneLeft : undefined}
            >
              <span className={whyCss.left}>{count(step.left)}</span>
              <span>
                {say('whose {words}', { words: step.words })}
                {step.used.map((one) => (
                  <small key={one.label} className={whyCss.used}>
                    {one.label}: {one.value === '' ? <em>{say('blank')}</em> : <b>{one.value}</b>}{' '}
                    {one.value === '' && STATES[step.state]}
                  </small>
                ))}
              </span>
            </li>
          ))}
        </ol>
      )}
      {why && end === 0 && (
        <p className={clsx(findingCss.finding, findingCss.look)}>
          {why.all === 0
            ? say('{of} has no records in use. Add one, or bring one back from the archive.', { of: why.of })
            : say('Nothing is left. Change a value that the marked line used, or add a record that meets it.')}
        </p>
      )}
      <p className={textCss.faded}>
        {say('Archived records are left out. A record that was chosen before stays readable.')}
      </p>
    </Sheet>
  );
}
