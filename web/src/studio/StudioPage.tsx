import { type FormDefinition, prepareForm } from '@fiche/core/forms';
import { useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { useSay, Waiting } from '../parts/index.ts';
import { AddToForm } from './AddToForm.tsx';
import { FormSlip } from './FormSlip.tsx';
import { LiveCard } from './LiveCard.tsx';
import { Outline } from './Outline.tsx';
import { Slip } from './Slip.tsx';
import { useDraft } from './useDraft.ts';

/** Where forms are built: outline with wiring, the live card, and the slip of what is selected. */
export function StudioPage() {
  const { cabinet, tables, may } = useOffice();
  const { form: id = '' } = useParams();
  const { draft, error } = useDraft(id);
  const say = useSay();
  const [selected, setSelected] = useState<string>();
  const definition = draft?.definition;
  const prepared = useMemo(
    () => (definition && tables.has(definition.table) ? prepareForm(definition, tables) : undefined),
    [definition, tables],
  );
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (!event.ctrlKey || event.key.toLowerCase() !== 'z' || (event.target as Element).closest('input, textarea'))
        return;
      event.preventDefault();
      if (event.shiftKey) draft?.redo();
      else draft?.undo();
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
  if (!draft || !definition || !prepared) return <Waiting what="Opening the Studio…" />;
  const { view } = draft;
  const field = selected === undefined ? undefined : prepared.fields.get(selected);
  const change = (next: FormDefinition, select?: string): void => {
    draft.change(next);
    if (select !== undefined) setSelected(select);
  };
  const publish = async (): Promise<void> => {
    if (await draft.publish()) say(`Version ${(view.liveVersion ?? 0) + 1} of ${definition.label} is published.`);
  };
  const version = (view.liveVersion ?? 0) + 1;
  return (
    <div className="studio">
      <div className="studio-line">
        <span role="status">
          {draft.saving
            ? 'Draft, saving…'
            : view.liveVersion === null
              ? 'Draft, not published yet'
              : view.changedSince
                ? `Draft, changed since version ${view.liveVersion}`
                : `As version ${view.liveVersion}`}
        </span>
        <button type="button" className="link" disabled={!draft.canUndo} onClick={draft.undo}>
          Undo
        </button>
        <button type="button" className="link" disabled={!draft.canRedo} onClick={draft.redo}>
          Redo
        </button>
        <button
          type="button"
          className="link"
          aria-pressed={field === undefined}
          onClick={() => setSelected(undefined)}
        >
          The form itself
        </button>
        {draft.trouble && (
          <span className="ruled-problem" role="alert">
            {draft.trouble}
          </span>
        )}
        <div className="end">
          <Proof
            problems={view.problems}
            onShow={setSelected}
            labelOf={(path) => prepared.fields.get(path)?.label ?? path}
          />
          {view.liveVersion !== null && (
            <Link className="button" to={`/${cabinet.id}/forms/${id}/new`}>
              Fill version {view.liveVersion}
            </Link>
          )}
          <button
            type="button"
            className="button main"
            disabled={draft.saving || view.problems.length > 0 || !view.changedSince}
            onClick={() => void publish()}
          >
            Publish version {version}
          </button>
        </div>
      </div>
      <section className="outline" aria-label="Outline">
        <Outline
          definition={definition}
          prepared={prepared}
          problems={view.problems}
          selected={selected}
          onSelect={setSelected}
          onChange={change}
        />
        <AddToForm
          definition={definition}
          prepared={prepared}
          cabinet={cabinet.id}
          selected={selected}
          onChange={change}
        />
      </section>
      <section className="stage" aria-label="Live card">
        <LiveCard form={prepared} id={id} ready={!draft.saving} selected={selected} onSelect={setSelected} />
      </section>
      <aside className="slip" aria-label="Slip">
        {field ? (
          <Slip
            key={field.id}
            definition={definition}
            prepared={prepared}
            problems={view.problems}
            field={field}
            onChange={change}
          />
        ) : (
          <FormSlip definition={definition} onChange={change} />
        )}
      </aside>
    </div>
  );
}

function Proof({
  problems,
  onShow,
  labelOf,
}: {
  problems: readonly { path: string; message: string }[];
  onShow(path: string): void;
  labelOf(path: string): string;
}) {
  const [open, setOpen] = useState(false);
  if (problems.length === 0) return <span className="proof-clear">Proof: nothing found</span>;
  return (
    <span className="proof">
      <button type="button" className="link proof-found" aria-expanded={open} onClick={() => setOpen(!open)}>
        Proof ▲ {problems.length} to mend
      </button>
      {open && (
        <div className="proof-list" role="dialog" aria-label="Findings">
          {problems.map((problem) => (
            <p key={problem.path + problem.message}>
              <span aria-hidden="true">▲ </span>
              {problem.message}{' '}
              <button
                type="button"
                className="link"
                onClick={() => {
                  setOpen(false);
                  onShow(problem.path);
                }}
              >
                Show me {labelOf(problem.path)}
              </button>
            </p>
          ))}
        </div>
      )}
    </span>
  );
}
