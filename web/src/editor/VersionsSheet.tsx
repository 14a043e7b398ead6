import type { VersionsView } from '@fiche/core/api';
import { type DefinedForm, differences } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { Tables } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { send } from '../client/index.ts';
import { pageCss, SelectField, Sheet, showMoment, textCss } from '../parts/index.ts';
import versionsCss from './versions.module.css';

interface Props {
  readonly id: string;
  readonly draft: DefinedForm;
  readonly tables: Tables;
  /** Raised with each publish, so that a new version shows. */
  readonly live: number | null;
  readonly trying?: number;
  onTry(version: { number: number; definition: DefinedForm } | undefined): void;
  onBringBack(number: number, definition: DefinedForm): void;
  onClose(): void;
}

/** The published versions: what changed with each, in words; any can be compared, tried and brought back. */
export function VersionsSheet({ id, draft, tables, live, trying, onTry, onBringBack, onClose }: Props) {
  const query = useQuery({
    queryKey: ['versions', id, live],
    queryFn: () => send<VersionsView>('GET', `/api/forms/${id}/versions`),
    staleTime: 0,
  });
  const versions = query.data?.versions ?? [];
  const [from, setFrom] = useState<number>();
  const [to, setTo] = useState<number | 'draft'>('draft');
  const find = (number: number | 'draft' | undefined): DefinedForm | undefined =>
    number === 'draft' ? draft : versions.find((one) => one.number === (number ?? versions[0]?.number))?.definition;
  const [before, after] = [find(from), find(to)];
  return (
    <Sheet title={say('Versions')} onClose={onClose}>
      {query.isError && <p role="alert">{query.error.message}</p>}
      {query.data && versions.length === 0 && (
        <p className={textCss.faded}>{say('Nothing is published yet. Publishing the draft makes version 1.')}</p>
      )}
      {versions.length > 0 && (
        <section aria-label={say('Compare two versions')}>
          <div>
            <SelectField
              label={say('Compare from')}
              value={String(from ?? versions[0]?.number)}
              options={versions.map((one) => ({
                value: String(one.number),
                label: say('version {number}', { number: one.number }),
              }))}
              onChange={(value) => setFrom(Number(value))}
            />
            <SelectField
              label={say('Compare to')}
              value={String(to)}
              options={[
                { value: 'draft', label: say('the draft') },
                ...versions.map((one) => ({
                  value: String(one.number),
                  label: say('version {number}', { number: one.number }),
                })),
              ]}
              onChange={(value) => setTo(value === 'draft' ? 'draft' : Number(value))}
            />
          </div>
          {before && after && <DifferenceList words={differences(before, after, tables).map((one) => one.words)} />}
        </section>
      )}
      {versions.map((one, at) => {
        const earlier = versions[at + 1];
        return (
          <section
            key={one.number}
            className={versionsCss.version}
            aria-label={say('Version {number}', { number: one.number })}
          >
            <h3>
              {say('Version {number}', { number: one.number })}{' '}
              <span className={textCss.stamp}>{`${showMoment(one.at)} · ${one.by}`}</span>
            </h3>
            {at === 1 && (
              <p className={textCss.faded}>
                {say(
                  'An entry that was started on it can be finished on it, until a day after version {number} was published.',
                  { number: one.number + 1 },
                )}
              </p>
            )}
            {earlier ? (
              <DifferenceList words={differences(earlier.definition, one.definition, tables).map((d) => d.words)} />
            ) : (
              <p className={textCss.faded}>{say('The first one.')}</p>
            )}
            <p className={pageCss.acts}>
              <Button variant="text" onClick={() => onTry(trying === one.number ? undefined : one)}>
                {trying === one.number ? say('Back to the draft') : say('Try version {number}', { number: one.number })}
              </Button>
              <Button variant="text" onClick={() => onBringBack(one.number, one.definition)}>
                {say('Use as the draft')}
              </Button>
            </p>
          </section>
        );
      })}
    </Sheet>
  );
}

/** What changed, in words. */
export function DifferenceList({ words }: { words: readonly string[] }) {
  if (words.length === 0) return <p className={textCss.faded}>{say('Nothing differs.')}</p>;
  return (
    <ul className={versionsCss.differences}>
      {words.map((one) => (
        <li key={one}>{one}.</li>
      ))}
    </ul>
  );
}
