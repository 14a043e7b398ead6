import type { FindingView } from '@fiche/core/api';
import type { Group } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import type { ReactNode } from 'react';
import { findingCss, pageCss, textCss } from '../parts/index.ts';
import { removeItem } from './edit.ts';
import type { ItemSettingsProps } from './fieldSettingsProps.ts';
import panelCss from './panel.module.css';
import { ShownSentences } from './ShownSentences.tsx';

/** What the check finds here. */
export function Findings({ findings }: { findings: readonly FindingView[] }) {
  return findings.map((finding) => (
    <p key={finding.message} className={clsx(findingCss.finding, finding.weight === 'look' && findingCss.look)}>
      <span aria-hidden="true">{finding.weight === 'must' ? '▲ ' : '● '}</span>
      <span className={textCss.visuallyHidden}>
        {finding.weight === 'must' ? `${say('Problem:')} ` : `${say('Worth a look:')} `}
      </span>
      {finding.message} <small className={findingCss.why}>{finding.why}</small>
    </p>
  ));
}

interface SettingsGroupProps {
  readonly title: string;
  /** The letter of its arcs in the outline. */
  readonly letter?: string;
  readonly about?: string;
  readonly children: ReactNode;
}

/** A group of settings with one line of explanation. */
export function SettingsGroup({ title, letter, about, children }: SettingsGroupProps) {
  return (
    <section className={panelCss.part} aria-label={title}>
      <h3>
        {letter && (
          <span className={clsx(panelCss.letter, panelCss[letter.toLowerCase()])} aria-hidden="true">
            {letter}
          </span>
        )}
        {title}
      </h3>
      {about && <p className={panelCss.about}>{about}</p>}
      {children}
    </section>
  );
}

interface ShownWhenProps extends Pick<ItemSettingsProps, 'prepared'> {
  /** What is shown, as the sentence names it. */
  readonly what: string;
  readonly about: string;
  /** Fields that it cannot depend on. */
  readonly except: readonly string[];
  readonly condition: Group | null;
  readonly children?: ReactNode;
  onChange(condition: Group | null): void;
}

/** When a field, a section or a subform is shown. */
export function ShownWhen({ what, about, children, ...sentences }: ShownWhenProps) {
  return (
    <SettingsGroup title={say('Shown when')} letter="S" about={about}>
      <ShownSentences
        {...sentences}
        lead={`${say('Show {what} only when', { what })} `}
        none={say('Always shown.')}
        addLabel={say('Show it only when…')}
      />
      {children}
    </SettingsGroup>
  );
}

/** Takes the selected item off the form; what its table holds stays. */
export function RemoveFromForm({
  definition,
  selected,
  onChange,
}: Pick<ItemSettingsProps, 'definition' | 'selected' | 'onChange'>) {
  return (
    <p className={clsx(pageCss.acts, panelCss.part)}>
      <Button variant="text" onClick={() => onChange(removeItem(definition, selected))}>
        {say('Remove from the form')}
      </Button>
    </p>
  );
}
