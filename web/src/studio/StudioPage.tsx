import type { FindingView } from '@fiche/core/api';
import { type EntryState, readable, readForm } from '@fiche/core/entry';
import { type DefinedForm, differences, labelAt, type PreparedForm, prepareForm } from '@fiche/core/forms';
import { useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { dropdownAt, inputId, WhySheet } from '../entry/index.ts';
import { useSay, Waiting } from '../parts/index.ts';
import { AddToForm } from './AddToForm.tsx';
import { changeLines, itemOn, lineKey } from './edit.ts';
import { FormSlip } from './FormSlip.tsx';
import { SectionSlip, WordsSlip } from './ItemSlips.tsx';
import { LiveCard } from './LiveCard.tsx';
import { Outline } from './Outline.tsx';
import { ProofSheet } from './ProofSheet.tsx';
import { type LiveValues, Slip } from './Slip.tsx';
import { SubformSlip } from './SubformSlip.tsx';
import { type Draft, useDraft } from './useDraft.ts';
import { DifferenceList, VersionsSheet } from './VersionsSheet.tsx';

type Open = { kind: 'proof' } | { kind: 'versions' } | { kind: 'why'; field: string };

/** Where forms are built: outline with wiring, the live card, and the slip of what is selected. */
export function StudioPage() {
  const { cabinet, tables, may } = useOffice();
  const { form: id = '' } = useParams();
  const { draft, error } = useDraft(id);
  const say = useSay();
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
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const typing = (event.target as Element).closest('input, textarea');
      if (event.altKey && event.key.toLowerCase() === 'w') {
        const field = (event.target as Element).closest<HTMLElement>('[data-field]')?.dataset.field?.replace(/^f-/, '');
        const dropdown = field ?? selected;
        if (dropdown === undefined || !prepared || !dropdownAt(prepared, dropdown)) return;
        setSheet({ kind: 'why', field: dropdown });
      } else if (event.ctrlKey && event.key.toLowerCase() === 'z' && !typing) {
        if (event.shiftKey) draft?.redo();
        else draft?.undo();
      } else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
  if (!may('build'))
    return <p className="empty">The Studio is for builders. Ask an administrator if you need to build forms.</p>;
  if (error)
    return (
      <p className="empty" role="alert">
        {error.message}
      </p>
    );
  if (!draft || !definition || !prepared || !shown) return <Waiting what="Opening the Studio…" />;
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
    if (await draft.publish()) say(`Version ${version} of ${definition.label} is published.`);
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
  const slip = {
    definition,
    prepared,
    findings: view.findings,
    onChange: change,
  };
  return (
    <div className="studio">
      <div className="studio-line">
        <span role="status">{stateWords(draft)}</span>
        <button type="button" className="link" disabled={!draft.canUndo} onClick={draft.undo}>
          Undo
        </button>
        <button type="button" className="link" disabled={!draft.canRedo} onClick={draft.redo}>
          Redo
        </button>
        <button
          type="button"
          className="link"
          aria-pressed={selected === undefined}
          onClick={() => setSelected(undefined)}
        >
          The form itself
        </button>
        <button
          type="button"
          className="link"
          aria-expanded={sheet?.kind === 'versions'}
          onClick={() => setSheet(sheet?.kind === 'versions' ? undefined : { kind: 'versions' })}
        >
          Versions
        </button>
        {draft.trouble && (
          <span className="ruled-problem" role="alert">
            {draft.trouble}
          </span>
        )}
        <div className="end">
          <button
            type="button"
            className={`link proof-${musts > 0 ? 'found' : view.findings.length > 0 ? 'look' : 'clear'}`}
            aria-expanded={sheet?.kind === 'proof'}
            onClick={() => setSheet(sheet?.kind === 'proof' ? undefined : { kind: 'proof' })}
          >
            {proofWords(musts, view.findings.length - musts)}
          </button>
          {view.liveVersion !== null && (
            <Link className="button" to={`/${cabinet.id}/forms/${id}/new`}>
              Fill version {view.liveVersion}
            </Link>
          )}
          <button
            type="button"
            className="button main"
            disabled={publishing || draft.saving || musts > 0 || !view.changedSince || draft.theirs !== undefined}
            onClick={() => void publish()}
          >
            {publishing ? 'Publishing…' : `Publish version ${version}`}
          </button>
          {publishing && <MakingIndexes />}
        </div>
      </div>
      <section className="outline" aria-label="Outline">
        <Outline {...slip} selected={selected} onSelect={setSelected} />
        <AddToForm {...slip} cabinet={cabinet.id} selected={selected} />
      </section>
      <section className="stage" aria-label="Live card">
        {draft.theirs && (
          <section className="problem-list" role="alert">
            <h2>Somebody else has changed this draft meanwhile. Yours is not saved until you decide.</h2>
            <DifferenceList
              words={differences(definition, draft.theirs.definition, tables).map((one) => `Theirs: ${one.words}`)}
            />
            <p className="acts">
              <button type="button" className="button" onClick={() => draft.decide('theirs')}>
                Go on with theirs
              </button>
              <button type="button" className="button plain" onClick={() => draft.decide('mine')}>
                Save mine over theirs
              </button>
            </p>
          </section>
        )}
        {trying && (
          <p className="trying" role="status">
            This is version {trying.number} as it was published; the draft is untouched.{' '}
            <button type="button" className="link" onClick={() => setTrying(undefined)}>
              Back to the draft
            </button>
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
      <aside className="slip" aria-label="Slip">
        {subform && lineField?.placed ? (
          <Slip
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
          <SubformSlip key={selected} {...slip} selected={selected ?? ''} />
        ) : field?.placed ? (
          <Slip key={field.id} {...slip} id={id} field={field} live={live} />
        ) : selected?.startsWith('§') ? (
          <SectionSlip key={selected} {...slip} selected={selected} />
        ) : selected?.startsWith('#') ? (
          <WordsSlip key={selected} {...slip} selected={selected} />
        ) : (
          <FormSlip definition={definition} prepared={prepared} onChange={change} />
        )}
      </aside>
      {sheet && (
        <div className="studio-sheet">
          {sheet.kind === 'proof' && (
            <ProofSheet
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
                say(`Version ${number} is the draft now. Undo brings yours back.`);
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

function proofWords(musts: number, looks: number): string {
  if (musts > 0) return `Proof ▲ ${musts} to mend${looks > 0 ? `, ● ${looks} to look at` : ''}`;
  return looks > 0 ? `Proof ● ${looks} to look at` : 'Proof: nothing found';
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
