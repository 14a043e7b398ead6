import { say, sayCount } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { Link } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { textCss, useNotify } from '../parts/index.ts';
import { DraftBar } from './DraftBar.tsx';
import type { OpenSheet } from './EditorSheet.tsx';
import type { Draft } from './useDraft.ts';

interface EditorBarProps {
  /** The form’s id. */
  readonly id: string;
  readonly draft: Draft;
  readonly selected: string | undefined;
  readonly sheet: OpenSheet | undefined;
  onFormSettings(): void;
  onSheet(sheet: OpenSheet | undefined): void;
}

/** The top line of the form editor: the state of the draft, undo, versions, the check, and publishing. */
export function EditorBar({ id, draft, selected, sheet, onFormSettings, onSheet }: EditorBarProps) {
  const { cabinet } = useOffice();
  const { view } = draft;
  const musts = view.findings.filter((one) => one.weight === 'must').length;
  const toggle = (kind: 'findings' | 'versions'): void => onSheet(sheet?.kind === kind ? undefined : { kind });
  return (
    <DraftBar
      end={
        <>
          <Button
            variant="text"
            color={musts > 0 ? 'error' : view.findings.length > 0 ? 'warning' : 'success'}
            aria-expanded={sheet?.kind === 'findings'}
            onClick={() => toggle('findings')}
          >
            {checkWords(musts, view.findings.length - musts)}
          </Button>
          {view.liveVersion !== null && (
            <Button component={Link} to={`/${cabinet.id}/forms/${id}`}>
              {say('Fill version {liveVersion}', { liveVersion: view.liveVersion })}
            </Button>
          )}
          <PublishButton draft={draft} />
        </>
      }
    >
      <DraftState draft={draft} />
      <Button variant="text" aria-pressed={selected === undefined} onClick={onFormSettings}>
        {say('Form settings')}
      </Button>
      <Button variant="text" aria-expanded={sheet?.kind === 'versions'} onClick={() => toggle('versions')}>
        {say('Versions')}
      </Button>
      {draft.trouble && (
        <span className={textCss.problem} role="alert">
          {draft.trouble}
        </span>
      )}
    </DraftBar>
  );
}

/** What has become of a draft, with undo and redo. */
export function DraftState({ draft }: { readonly draft: Draft }) {
  return (
    <>
      <span role="status">{stateWords(draft)}</span>
      <Button variant="text" disabled={!draft.canUndo} onClick={draft.undo}>
        {say('Undo')}
      </Button>
      <Button variant="text" disabled={!draft.canRedo} onClick={draft.redo}>
        {say('Redo')}
      </Button>
    </>
  );
}

/** Publishes a draft in which nothing stands against it. */
export function PublishButton({ draft }: { readonly draft: Draft }) {
  const notify = useNotify();
  const [publishing, setPublishing] = useState(false);
  const { view } = draft;
  const version = (view.liveVersion ?? 0) + 1;
  const hasMust = view.findings.some((one) => one.weight === 'must');
  const publish = async (): Promise<void> => {
    setPublishing(true);
    if (await draft.publish())
      notify(say('Version {version} of {label} is published.', { version, label: draft.definition.label }));
    setPublishing(false);
  };
  return (
    <>
      <Button
        variant="contained"
        disabled={publishing || draft.saving || hasMust || !view.changedSince || draft.theirs !== undefined}
        onClick={() => void publish()}
      >
        {publishing ? say('Publishing…') : say('Publish version {version}', { version })}
      </Button>
      {publishing && <MakingIndexes />}
    </>
  );
}

function stateWords({ saving, view }: Draft): string {
  if (saving) return say('Draft, saving…');
  if (view.liveVersion === null) return say('Draft, not published yet');
  if (!view.changedSince) return say('As version {liveVersion}', { liveVersion: view.liveVersion });
  const n = view.changes;
  return say('Draft, {n} since version {liveVersion}', {
    n: sayCount(n, '{count} change', '{count} changes'),
    liveVersion: view.liveVersion,
  });
}

function checkWords(musts: number, looks: number): string {
  const parts = [
    musts > 0 ? `▲ ${sayCount(musts, '{count} problem', '{count} problems')}` : '',
    looks > 0 ? say('● {looks} to look at', { looks }) : '',
  ].filter((part) => part !== '');
  return parts.length === 0 ? say('Check: no problems') : say('Check: {list}', { list: parts.join(', ') });
}

/** Why publishing takes long, when it does. */
function MakingIndexes() {
  const [late, setLate] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLate(true), 3_000);
    return () => clearTimeout(timer);
  }, []);
  return late ? (
    <span className={textCss.faded} role="status">
      {say('Making the indexes of its choices. A list of a million takes some minutes; you may leave this page.')}
    </span>
  ) : null;
}
