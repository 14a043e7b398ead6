import { askedRules, type EntryEvent, isRaised, linePath } from '@fiche/core/entry';
import { say, sayCount } from '@fiche/core/languages';
import FormControl from '@mui/material/FormControl';
import Input from '@mui/material/Input';
import InputLabel from '@mui/material/InputLabel';
import { placeName } from './focus.ts';
import reasonsCss from './reasons.module.css';
import type { Entry } from './useEntry.ts';

/** The rules that ask, in one place before saving: each lets the entry through once a person has said why. */
export function ReasonList({ entry }: { entry: Entry }) {
  const { state } = entry;
  const asked = askedRules(state).filter((one) => isRaised(one.state, one.rule));
  if (asked.length === 0) return null;
  return (
    <section className={reasonsCss.list} aria-label={say('Reasons')}>
      <h2>{sayCount(asked.length, 'Give a reason to save', 'Give {count} reasons to save')}</h2>
      {asked.map(({ rule, reason, line }) => {
        const id = `why-${line ? `${line.key}-` : ''}${rule.id}`;
        const event: EntryEvent = { type: 'reasonGiven', rule: rule.id, reason: '' };
        return (
          <div key={id} data-reason className={reasonsCss.reason}>
            <FormControl fullWidth>
              <InputLabel htmlFor={id}>
                <span aria-hidden="true">? </span>
                {line && `${placeName(state, linePath(line, ''))}: `}
                {rule.message}
              </InputLabel>
              <Input
                id={id}
                value={reason}
                placeholder={
                  state.opening.account === null ? say('Your reason') : say('Your reason; it goes into the history')
                }
                autoComplete="off"
                inputProps={{ maxLength: 500 }}
                onChange={({ target }) => {
                  const said = { ...event, reason: target.value };
                  entry.dispatch(line ? { type: 'line', line, event: said } : said);
                }}
              />
            </FormControl>
          </div>
        );
      })}
    </section>
  );
}
