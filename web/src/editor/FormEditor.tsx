import type { FindingView } from '@fiche/core/api';
import { type EntryState, readable, readForm } from '@fiche/core/entry';
import { type DefinedForm, differences, labelAt, type PreparedForm, prepareForm } from '@fiche/core/forms';
import Button from '@mui/material/Button';
import { useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { dropdownAt, inputId, WhySheet } from '../entry/index.ts';
import { useNotify, useShortcut, Waiting } from '../parts/index.ts';
import { AddToForm } from './AddToForm.tsx';
import { changeLines, fieldOn, itemOn, lineKey } from './edit.ts';
import { FieldSettings } from './FieldSettings.tsx';
import { FindingsSheet } from './FindingsSheet.tsx';
import { FormSettings } from './FormSettings.tsx';
import type { LiveValues } from './fieldSettingsProps.ts';
import { GoneFieldSettings, SectionSettings, WordsSettings } from './ItemSettings.tsx';
import { LiveCard } from './LiveCard.tsx';
import { Outline } from './Outline.tsx';
import { SubformSettings } from './SubformSettings.tsx';
import { type Draft, useDraft } from './useDraft.ts';
import { DifferenceList, VersionsSheet } from './VersionsSheet.tsx';

type Open = { kind: 'proof' } | { kind: 'versions' } | { kind: 'why'; field: string };

/** Where forms are built: outline with wiring, the live card, and the settings of what is selected. */
export function FormEditor() {
  const { cabinet, tables, may } = useOffice();
  const { form: id = '' } = useParams();
  const { draft, error } = useDraft(id);
  const notify = useNotify();
  const [selected, setSelected] = useState<string>();
  const [sheet, setSheet] = useState<Open>();
  const [trying, setTrying] = useState<{ number: number; definition: DefinedForm }>();
  const [entry, setEntry] = useState<EntryState>();
  const [publishing, setPublishing] = useState(false);
  const definition = draft?.definition;
  const prepared = useMemo(
    () => (definition && tables.has(definition.table) ? prepareForm(definition, tables) : undefined),
    [definition, tables],
  );
  const shown = useMemo(() => (trying ? prepareForm(trying.definition, tables) : prepared), [trying, prepared, tables]);
  const live = useMemo(
    (): LiveValues | undefined =>
      entry && { now: entry.opening.now, valueAt: (path) => readForm(readable(entry), path) },
    [entry],
  );
  useShortcut('why', (event) => {
    const field = (event.target as Element).closest<HTMLElement>('[data-field]')?.dataset.field?.replace(/^f-/, '');
    const dropdown = field ?? selected;
    if (dropdown !== undefined && prepared && dropdownAt(prepared, dropdown))
      setSheet({ kind: 'why', field: dropdown });
  });
  useShortcut('undo', draft?.undo, { whileTyping: false });
  useShortcut('redo', draft?.redo, { whileTyping: false });
  if (!may('build'))
    return <p className="empty">The form editor is for builders. Ask an administrator if you need to build forms.</p>;
  if (error)
    return (
      <p className="empty" role="alert">
        {error.message}
      </p>
    );
  if (!draft || !definition || !prepared || !shown) return <Waiting what="Opening the form editor…" />;
  const { view } = draft;
  const field = selected === undefined ? undefined : prepared.fields.get(selected);
  const inLines = lineKey(selected);
  const subform = prepared.subforms.get(inLines?.subform ?? '');
  const lineField = subform?.form.fields.get(inLines?.key ?? '');
  const change = (next: DefinedForm, select?: string): void => {
    setTrying(undefined);
    draft.change(next);
    if (select !== undefined) setSelected(select);
  };
  const version = (view.liveVersion ?? 0) + 1;
  const musts = view.findings.filter((one) => one.weight === 'must').length;
  const publish = async (): Promise<void> => {
    setPublishing(true);
    if (await draft.publish()) notify(`Version ${version} of ${definition.label} is published.`);
    setPublishing(false);
  };
  const labelOf = (path: string): string =>
    path === 'sections' || path === 'page'
      ? 'the form'
      : path.startsWith('#')
        ? placeWords(definition, path)
        : (lineLabel(prepared, path) ??
          prepared.fields.get(path)?.label ??
          prepared.subforms.get(path)?.label ??
          labelAt(tables, definition.table, path));
  const showMe = (path: string): void => {
    const section = definition.sections.find((one) => `#${one.id}` === path);
    const key = section ? `§${section.id}` : path;
    setSelected(path === 'sections' || path === 'page' ? undefined : key);
    // Into its line of the outline: from there the arrows go on, and Ctrl+Z takes a change back.
    document.querySelector<HTMLElement>(`[data-outline="${CSS.escape(key)}"]`)?.focus();
    document.getElementById(inputId(path))?.scrollIntoView({ block: 'nearest' });
  };
  const panel = {
    definition,
    prepared,
    findings: view.findings,
    onChange: change,
  };
  return (
    <div className="form-editor">
      <div className="form-editor-line">
        <span role="status">{stateWords(draft)}</span>
        <Button variant="text" disabled={!draft.canUndo} onClick={draft.undo}>
          Undo
        </Button>
        <Button variant="text" disabled={!draft.canRedo} onClick={draft.redo}>
          Redo
        </Button>
        <Button variant="text" aria-pressed={selected === undefined} onClick={() => setSelected(undefined)}>
          Form settings
        </Button>
        <Button
          variant="text"
          aria-expanded={sheet?.kind === 'versions'}
          onClick={() => setSheet(sheet?.kind === 'versions' ? undefined : { kind: 'versions' })}
        >
          Versions
        </Button>
        {draft.trouble && (
          <span className="ruled-problem" role="alert">
            {draft.trouble}
          </span>
        )}
        <div className="end">
          <Button
            variant="text"
            color={musts > 0 ? 'error' : view.findings.length > 0 ? 'warning' : 'success'}
            aria-expanded={sheet?.kind === 'proof'}
            onClick={() => setSheet(sheet?.kind === 'proof' ? undefined : { kind: 'proof' })}
          >
            {checkWords(musts, view.findings.length - musts)}
          </Button>
          {view.liveVersion !== null && (
            <Button component={Link} to={`/${cabinet.id}/forms/${id}`}>
              Fill version {view.liveVersion}
            </Button>
          )}
          <Button
            variant="contained"
            disabled={publishing || draft.saving || musts > 0 || !view.changedSince || draft.theirs !== undefined}
            onClick={() => void publish()}
          >
            {publishing ? 'Publishing…' : `Publish version ${version}`}
          </Button>
          {publishing && <MakingIndexes />}
        </div>
      </div>
      <section className="outline" aria-label="Outline">
        <Outline {...panel} selected={selected} onSelect={setSelected} />
        <AddToForm {...panel} selected={selected} />
      </section>
      <section className="stage" aria-label="Live card">
        {draft.theirs && (
          <section className="problem-list" role="alert">
            <h2>Somebody else has changed this draft meanwhile. Yours is not saved until you decide.</h2>
            <DifferenceList
              words={differences(definition, draft.theirs.definition, tables).map((one) => `Theirs: ${one.words}`)}
            />
            <p className="acts">
              <Button onClick={() => draft.decide('theirs')}>Use theirs</Button>
              <Button variant="text" onClick={() => draft.decide('mine')}>
                Replace theirs with mine
              </Button>
            </p>
          </section>
        )}
        {trying && (
          <p className="trying" role="status">
            This is version {trying.number} as it was published; the draft is untouched.{' '}
            <Button variant="text" onClick={() => setTrying(undefined)}>
              Back to the draft
            </Button>
          </p>
        )}
        <LiveCard
          key={trying?.number ?? 'draft'}
          form={shown}
          id={id}
          version={trying?.number}
          ready={!draft.saving}
          selected={selected}
          onSelect={setSelected}
          onWhy={(dropdown) => setSheet({ kind: 'why', field: dropdown })}
          onState={setEntry}
        />
      </section>
      <aside className="settings-panel" aria-label="Settings">
        {subform && lineField?.placed ? (
          <FieldSettings
            key={selected}
            id={id}
            definition={subform.form.definition}
            prepared={subform.form}
            findings={findingsWithin(view.findings, subform.id)}
            field={lineField}
            live={lineLive(entry, subform.id)}
            onChange={(lines) => change(changeLines(definition, subform.id, tables, () => lines))}
          />
        ) : prepared.subforms.has(selected ?? '') ? (
          <SubformSettings key={selected} {...panel} selected={selected ?? ''} />
        ) : field?.placed ? (
          <FieldSettings key={field.id} {...panel} id={id} field={field} live={live} />
        ) : selected !== undefined && fieldOn(definition, selected) ? (
          <GoneFieldSettings key={selected} {...panel} selected={selected} />
        ) : selected?.startsWith('§') ? (
          <SectionSettings key={selected} {...panel} selected={selected} />
        ) : selected?.startsWith('#') ? (
          <WordsSettings key={selected} {...panel} selected={selected} />
        ) : (
          <FormSettings definition={definition} prepared={prepared} onChange={change} />
        )}
      </aside>
      {sheet && (
        <div className="form-editor-sheet">
          {sheet.kind === 'proof' && (
            <FindingsSheet
              findings={view.findings}
              labelOf={labelOf}
              onShow={showMe}
              onClose={() => setSheet(undefined)}
            />
          )}
          {sheet.kind === 'versions' && (
            <VersionsSheet
              id={id}
              draft={definition}
              tables={tables}
              live={view.liveVersion}
              trying={trying?.number}
              onTry={setTrying}
              onBringBack={(number, old) => {
                change(old);
                notify(`Version ${number} is the draft now. Undo brings yours back.`);
              }}
              onClose={() => setSheet(undefined)}
            />
          )}
          {sheet.kind === 'why' && entry && (
            <WhySheet
              state={entry}
              field={sheet.field}
              base={`/api/forms/${id}/draft`}
              formVersion={trying?.number}
              onClose={() => setSheet(undefined)}
            />
          )}
        </div>
      )}
    </div>
  );
}

/** What a place in lines is called: `Services used, Quantity`. */
function lineLabel({ subforms }: PreparedForm, path: string): string | undefined {
  const at = lineKey(path);
  const subform = subforms.get(at?.subform ?? '');
  return at && subform && `${subform.label}, ${subform.form.fields.get(at.key)?.label ?? at.key}`;
}

/** The findings in the lines of a subform, at their own places. */
const findingsWithin = (findings: readonly FindingView[], subform: string): FindingView[] =>
  findings.flatMap((one) =>
    one.path.startsWith(`${subform}/`) ? [{ ...one, path: one.path.slice(subform.length + 1) }] : [],
  );

/** What stands in the first line of a subform on the live card. */
function lineLive(entry: EntryState | undefined, subform: string): LiveValues | undefined {
  const line = entry?.lines[subform]?.[0]?.state;
  return line && { now: line.opening.now, valueAt: (path) => readForm(readable(line), path) };
}

/** What a finding at no field is about. */
function placeWords(definition: DefinedForm, path: string): string {
  const section = definition.sections.find((one) => `#${one.id}` === path);
  if (section) return section.label ? `the section ${section.label}` : 'the section';
  const item = itemOn(definition, path);
  return item && 'kind' in item
    ? { card: 'the reference card', heading: 'the heading', note: 'the note', subform: 'the subform' }[item.kind]
    : 'the place';
}

function stateWords({ saving, view }: Draft): string {
  if (saving) return 'Draft, saving…';
  if (view.liveVersion === null) return 'Draft, not published yet';
  if (!view.changedSince) return `As version ${view.liveVersion}`;
  const n = view.changes;
  return `Draft, ${n} ${n === 1 ? 'change' : 'changes'} since version ${view.liveVersion}`;
}

function checkWords(musts: number, looks: number): string {
  const parts = [
    musts > 0 ? `▲ ${musts} ${musts === 1 ? 'problem' : 'problems'}` : '',
    looks > 0 ? `● ${looks} to look at` : '',
  ].filter((part) => part !== '');
  return parts.length === 0 ? 'Check: no problems' : `Check: ${parts.join(', ')}`;
}

/** Why publishing takes long, when it does. */
function MakingIndexes() {
  const [late, setLate] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLate(true), 3_000);
    return () => clearTimeout(timer);
  }, []);
  return late ? (
    <span className="faded" role="status">
      Making the indexes of its choices. A list of a million takes some minutes; you may leave this page.
    </span>
  ) : null;
}
