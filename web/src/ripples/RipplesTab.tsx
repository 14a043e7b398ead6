import { EVERYTHING } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import type { Ripple, TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { textCss } from '../parts/index.ts';
import { RippleEditor } from './RippleEditor.tsx';
import ripplesCss from './ripples.module.css';

interface RipplesTabProps {
  readonly table: TableDefinition;
  /** Keeps the ripples of the table; false where that was refused, which is said. */
  onSet(ripples: readonly Ripple[]): Promise<boolean>;
}

/** A ripple that is not there yet, with a label that none has. */
function blankRipple(ripples: readonly Ripple[]): Ripple {
  const [ids, labels] = [new Set(ripples.map((one) => one.id)), new Set(ripples.map((one) => one.label))];
  let n = ripples.length + 1;
  while (ids.has(`ripple_${n}`) || labels.has(say('Ripple {n}', { n }))) n++;
  return {
    id: `ripple_${n}`,
    label: say('Ripple {n}', { n }),
    on: ['added', 'changed'],
    fields: [],
    when: EVERYTHING,
    effects: [],
    paused: false,
  };
}

/** What else is written when a record of a table is saved: each ripple as sentences, in the order in which they run. */
export function RipplesTab({ table, onSet }: RipplesTabProps) {
  const ripples = table.ripples ?? [];
  const [fresh, setFresh] = useState<Ripple>();
  const move = (at: number, by: number): void => {
    const next = [...ripples];
    const [one] = next.splice(at, 1);
    if (one) next.splice(at + by, 0, one);
    void onSet(next);
  };
  return (
    <div className={ripplesCss.tab}>
      <p className={textCss.faded}>
        {say(
          'A ripple writes something else when a record of {label} is saved: a line in another table, a change of a linked record, a message. It belongs to the save, whatever it comes by (a form, the grid, a change of many, an import, a public page, a program): both are written, or neither. Only a direct database session does not set it off.',
          { label: table.label },
        )}
      </p>
      {ripples.length === 0 && !fresh && (
        <p>
          {say('Nothing else is written yet.')}{' '}
          <span className={textCss.faded}>
            {say('Such as: when dues are waived, a line in a table that nobody else writes to.')}
          </span>
        </p>
      )}
      {ripples.map((ripple, at) => (
        <RippleEditor
          key={ripple.id}
          table={table}
          saved={ripple}
          onSet={(next) => onSet(ripples.map((one) => (one.id === ripple.id ? next : one)))}
          onRemove={() => void onSet(ripples.filter((one) => one.id !== ripple.id))}
          onMove={{
            ...(at > 0 ? { up: () => move(at, -1) } : {}),
            ...(at < ripples.length - 1 ? { down: () => move(at, 1) } : {}),
          }}
        />
      ))}
      {fresh ? (
        <RippleEditor
          key={fresh.id}
          table={table}
          fresh={fresh}
          onSet={async (next) => {
            const done = await onSet([...ripples, next]);
            if (done) setFresh(undefined);
            return done;
          }}
          onRemove={() => setFresh(undefined)}
          onMove={{}}
        />
      ) : (
        <Button onClick={() => setFresh(blankRipple(ripples))}>{say('New ripple')}</Button>
      )}
    </div>
  );
}
