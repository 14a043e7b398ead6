import type { DraftView } from '@fiche/core/api';
import type { EntryState } from '@fiche/core/entry';
import { type DefinedForm, differences, type PreparedForm, prepareForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { FieldId } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useMemo, useState } from 'react';
import { useParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { dropdownAt, inputId } from '../entry/index.ts';
import { cardCss, pageCss, useShortcut, Waiting } from '../parts/index.ts';
import { AddToForm } from './AddToForm.tsx';
import { EditorBar } from './EditorBar.tsx';
import { EditorSheet, type OpenSheet, type TriedVersion } from './EditorSheet.tsx';
import formEditorCss from './formEditor.module.css';
import { LiveCard } from './LiveCard.tsx';
import { Outline } from './Outline.tsx';
import outlineCss from './outline.module.css';
import { SettingsPanel } from './SettingsPanel.tsx';
import { type Draft, useDraft } from './useDraft.ts';
import { DifferenceList } from './VersionsSheet.tsx';

/** Where forms are built: outline with wiring, the live card, and the settings of what is selected. */
export function FormEditor() {
  const { tables, may } = useOffice();
  const { form: id = '' } = useParams();
  const { draft, error } = useDraft(id);
  const [selected, setSelected] = useState<string>();
  const [sheet, setSheet] = useState<OpenSheet>();
  const [trying, setTrying] = useState<TriedVersion>();
  const [entry, setEntry] = useState<EntryState>();
  const definition = draft?.definition;
  const prepared = useMemo(
    () => (definition && tables.has(definition.table) ? prepareForm(definition, tables) : undefined),
    [definition, tables],
  );
  const shown = useMemo(() => (trying ? prepareForm(trying.definition, tables) : prepared), [trying, prepared, tables]);
  const explain = (field: FieldId): void => setSheet({ kind: 'why', field });
  useEditorKeys(draft, prepared, selected, explain);
  if (!may('build'))
    return (
      <p className={pageCss.empty}>
        {say('The form editor is for builders. Ask an administrator if you need to build forms.')}
      </p>
    );
  if (error)
    return (
      <p className={pageCss.empty} role="alert">
        {error.message}
      </p>
    );
  if (!draft || !definition || !prepared || !shown) return <Waiting what={say('Opening the form editor…')} />;
  const { view } = draft;
  const change = (next: DefinedForm, select?: string): void => {
    setTrying(undefined);
    draft.change(next);
    if (select !== undefined) setSelected(select);
  };
  const showMe = (path: string): void => {
    const key = outlineKey(definition, path);
    setSelected(path === 'sections' || path === 'page' ? undefined : key);
    focusOutline(key, path);
  };
  const panel = {
    definition,
    prepared,
    findings: view.findings,
    onChange: change,
  };
  return (
    <div className={formEditorCss.editor}>
      <EditorBar
        id={id}
        draft={draft}
        selected={selected}
        sheet={sheet}
        onFormSettings={() => setSelected(undefined)}
        onSheet={setSheet}
      />
      <section className={outlineCss.outline} aria-label={say('Outline')}>
        <Outline {...panel} selected={selected} onSelect={setSelected} />
        <AddToForm {...panel} selected={selected} />
      </section>
      <section className={formEditorCss.stage} aria-label={say('Live card')}>
        {draft.theirs && <TwoDrafts draft={draft} theirs={draft.theirs} />}
        {trying && <TryingNote trying={trying} onBack={() => setTrying(undefined)} />}
        <LiveCard
          key={trying?.number ?? 'draft'}
          form={shown}
          id={id}
          version={trying?.number}
          ready={!draft.saving}
          selected={selected}
          onSelect={setSelected}
          onWhy={explain}
          onState={setEntry}
        />
      </section>
      <SettingsPanel {...panel} id={id} selected={selected} entry={entry} />
      {sheet && (
        <EditorSheet
          sheet={sheet}
          id={id}
          definition={definition}
          prepared={prepared}
          findings={view.findings}
          liveVersion={view.liveVersion}
          trying={trying}
          entry={entry}
          onTry={setTrying}
          onShow={showMe}
          onChange={change}
          onClose={() => setSheet(undefined)}
        />
      )}
    </div>
  );
}

/** The keys of the editor: why a dropdown offers what it does, undo and redo of the draft. */
function useEditorKeys(
  draft: Draft | undefined,
  prepared: PreparedForm | undefined,
  selected: string | undefined,
  explain: (field: FieldId) => void,
): void {
  useShortcut('why', (event) => {
    const field = (event.target as Element).closest<HTMLElement>('[data-field]')?.dataset.field?.replace(/^f-/, '');
    const dropdown = field ?? selected;
    if (dropdown !== undefined && prepared && dropdownAt(prepared, dropdown)) explain(dropdown);
  });
  useShortcut('undo', draft?.undo, { whileTyping: false });
  useShortcut('redo', draft?.redo, { whileTyping: false });
}

/** Says that the card shows a published version. */
const TryingNote = ({ trying, onBack }: { trying: TriedVersion; onBack(): void }) => (
  <p className={formEditorCss.trying} role="status">
    {say('This is version {number} as it was published; the draft is untouched.', { number: trying.number })}{' '}
    <Button variant="text" onClick={onBack}>
      {say('Back to the draft')}
    </Button>
  </p>
);

/** The line of the outline that a path of a finding is about. */
function outlineKey(definition: DefinedForm, path: string): string {
  const section = definition.sections.find((one) => `#${one.id}` === path);
  return section ? `§${section.id}` : path;
}

/** What another builder has saved meanwhile, in words, and the choice between the two drafts. */
export function TwoDrafts({ draft, theirs }: { draft: Draft; theirs: DraftView }) {
  const { tables } = useOffice();
  const words = differences(draft.definition, theirs.definition, tables).map((one) =>
    say('Theirs: {words}', { words: one.words }),
  );
  return (
    <section data-problems className={cardCss.problems} role="alert">
      <h2>{say('Somebody else has changed this draft meanwhile. Yours is not saved until you decide.')}</h2>
      <DifferenceList words={words} />
      <p className={pageCss.acts}>
        <Button onClick={() => draft.decide('theirs')}>{say('Use theirs')}</Button>
        <Button variant="text" onClick={() => draft.decide('mine')}>
          {say('Replace theirs with mine')}
        </Button>
      </p>
    </section>
  );
}

/** Puts the focus on the line of the outline that a path is about, and its field into sight. */
function focusOutline(key: string, path: string): void {
  // From there the arrows go on, and Ctrl+Z takes a change back.
  document.querySelector<HTMLElement>(`[data-outline="${CSS.escape(key)}"]`)?.focus();
  document.getElementById(inputId(path))?.scrollIntoView({ block: 'nearest' });
}
