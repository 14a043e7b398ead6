import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { ReactNode } from 'react';
import { Link } from 'react-router-dom';
import { textCss } from '../parts/index.ts';
import trialCss from './trial.module.css';

export interface BrokenRecord {
  readonly id: number;
  readonly title: string;
  readonly value: string;
  readonly why: string;
}

interface TrialProps {
  readonly heading: string;
  /** Where a table's records are: its address. */
  readonly path: string;
  readonly breaks: number;
  readonly examples: readonly BrokenRecord[];
  readonly children?: ReactNode;
}

/** What would not fit, before it is switched on: how many records, which, and what can be done. */
export function Trial({ heading, path, breaks, examples, children }: TrialProps) {
  return (
    <section className={trialCss.trial} aria-label={heading}>
      <strong>{heading}</strong>
      {examples.length > 0 && (
        <ul aria-label={say('Records that break it')}>
          {examples.map((one) => (
            <li key={one.id}>
              <Link to={`${path}/${one.id}`}>{one.title}</Link>
              {one.value && <span> · {one.value}</span>} <span className={textCss.faded}>· {one.why}</span>
            </li>
          ))}
          {breaks > examples.length && (
            <li className={textCss.faded}>
              {say('and {breaks} more', { breaks: formatCount(breaks - examples.length) })}
            </li>
          )}
        </ul>
      )}
      <div className={trialCss.trialActs}>{children}</div>
    </section>
  );
}
