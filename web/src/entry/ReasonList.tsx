import { askedRules, type EntryEvent, isRaised, linePath } from '@fiche/core/entry';
import { placeName } from './places.ts';
import type { Entry } from './useEntry.ts';

/** The rules that ask, in one place before saving: each lets the entry through once a person has said why. */
export function ReasonList({ entry }: { entry: Entry }) {
  const { state } = entry;
  const asked = askedRules(state).filter((one) => isRaised(one.state, one.rule));
  if (asked.length === 0) return null;
  return (
    <section className="reason-list" aria-label="Say why">
      <h2>{asked.length === 1 ? 'One thing to give a reason for' : `${asked.length} things to give a reason for`}</h2>
      {asked.map(({ rule, reason, line }) => {
        const id = `why-${line ? `${line.key}-` : ''}${rule.id}`;
        const event: EntryEvent = { type: 'reasoned', rule: rule.id, reason: '' };
        return (
          <div key={id} className="reason">
            <label htmlFor={id}>
              <span aria-hidden="true">? </span>
              {line && `${placeName(state, linePath(line, ''))}: `}
              {rule.message}
            </label>
            <input
              id={id}
              value={reason}
              maxLength={500}
              placeholder={state.opening.account === null ? 'Say why' : 'The reason goes into the history'}
              autoComplete="off"
              onChange={({ target }) => {
                const said = { ...event, reason: target.value };
                entry.dispatch(line ? { type: 'line', line, event: said } : said);
              }}
            />
          </div>
        );
      })}
    </section>
  );
}
