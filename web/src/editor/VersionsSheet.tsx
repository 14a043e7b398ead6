import type { VersionsView } from '@fiche/core/api';
import { type DefinedForm, differences } from '@fiche/core/forms';
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
    <Sheet title="Versions" onClose={onClose}>
      {query.isError && <p role="alert">{query.error.message}</p>}
      {query.data && versions.length === 0 && (
        <p className={textCss.faded}>Nothing is published yet. Publishing the draft makes version 1.</p>
      )}
      {versions.length > 0 && (
        <section aria-label="Compare two versions">
          <div>
            <SelectField
              label="Compare from"
              value={String(from ?? versions[0]?.number)}
              options={versions.map((one) => ({ value: String(one.number), label: `version ${one.number}` }))}
              onChange={(value) => setFrom(Number(value))}
            />
            <SelectField
              label="Compare to"
              value={String(to)}
              options={[
                { value: 'draft', label: 'the draft' },
                ...versions.map((one) => ({ value: String(one.number), label: `version ${one.number}` })),
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
          <section key={one.number} className={versionsCss.version} aria-label={`Version ${one.number}`}>
            <h3>
              Version {one.number} <span className={textCss.stamp}>{`${showMoment(one.at)} · ${one.by}`}</span>
            </h3>
            {at === 1 && (
              <p className={textCss.faded}>
                An entry that was started on it can be finished on it, until a day after version {one.number + 1} was
                published.
              </p>
            )}
            {earlier ? (
              <DifferenceList words={differences(earlier.definition, one.definition, tables).map((d) => d.words)} />
            ) : (
              <p className={textCss.faded}>The first one.</p>
            )}
            <p className={pageCss.acts}>
              <Button variant="text" onClick={() => onTry(trying === one.number ? undefined : one)}>
                {trying === one.number ? 'Back to the draft' : `Try version ${one.number}`}
              </Button>
              <Button variant="text" onClick={() => onBringBack(one.number, one.definition)}>
                Use as the draft
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
  if (words.length === 0) return <p className={textCss.faded}>Nothing differs.</p>;
  return (
    <ul className={versionsCss.differences}>
      {words.map((one) => (
        <li key={one}>{one}.</li>
      ))}
    </ul>
  );
}
