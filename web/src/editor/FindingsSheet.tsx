import type { FindingView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { IdOfForm } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { findingCss, Sheet, textCss } from '../parts/index.ts';
import { DraftReplayPart } from './DraftReplayPart.tsx';

interface Props {
  readonly findings: readonly FindingView[];
  labelOf(path: string): string;
  /** The form whose published version has saved records; undefined where there is none. */
  readonly published: IdOfForm | undefined;
  onShow(path: string): void;
  onClose(): void;
}

/** What the check found: what has to be corrected before publishing, and what is worth a look. */
export function FindingsSheet({ findings, published, labelOf, onShow, onClose }: Props) {
  const list = (weight: FindingView['weight'], heading: string) => {
    const found = findings.filter((one) => one.weight === weight);
    if (found.length === 0) return null;
    return (
      <section aria-label={heading}>
        <h3>{heading}</h3>
        {found.map((one) => (
          <div key={one.path + one.message} className={clsx(findingCss.finding, weight === 'look' && findingCss.look)}>
            <span aria-hidden="true">{weight === 'must' ? '▲ ' : '● '}</span>
            {one.message} <small className={findingCss.why}>{one.why}</small>
            <div>
              <Button variant="text" onClick={() => onShow(one.path)}>
                {say('Show me {path}', { path: labelOf(one.path) })}
              </Button>
            </div>
          </div>
        ))}
      </section>
    );
  };
  return (
    <Sheet title={say('Check')} label={say('Findings')} onClose={onClose}>
      {findings.length === 0 && <p className={textCss.faded}>{say('No problems: the form can be published.')}</p>}
      {list('must', say('Problems: correct them before publishing'))}
      {list('look', say('Worth a look'))}
      {published !== undefined && <DraftReplayPart form={published} />}
    </Sheet>
  );
}
