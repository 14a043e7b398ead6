import { askedRules, isRaised } from '@fiche/core/entry';
import type { Entry } from './useEntry.ts';

/** The rules that ask, in one place before saving: each lets the entry through once a person has said why. */
export function ReasonList({ entry }: { entry: Entry }) {
  const { state } = entry;
  const asked = askedRules(state).filter(({ rule }) => isRaised(state, rule));
  if (asked.length === 0) return null;
  return (
    <section className="reason-list" aria-label="Say why">
      <h2>{asked.length === 1 ? 'One thing to give a reason for' : `${asked.length} things to give a reason for`}</h2>
      {asked.map(({ rule, reason }) => (
        <div key={rule.id} className="reason">
          <label htmlFor={`why-${rule.id}`}>
            <span aria-hidden="true">? </span>
            {rule.message}
          </label>
          <input
            id={`why-${rule.id}`}
            value={reason}
            maxLength={500}
            placeholder={state.opening.account === null ? 'Say why' : 'The reason goes into the history'}
            autoComplete="off"
            onChange={(event) => entry.dispatch({ type: 'reasoned', rule: rule.id, reason: event.target.value })}
          />
        </div>
      ))}
    </section>
  );
}
