import type { DraftView } from '@fiche/core/api';
import type { DefinedForm } from '@fiche/core/forms';
import type { IdOfForm } from '@fiche/core/tables';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { ServerProblem, send, useRefreshCabinet } from '../client/index.ts';
import { NO_STEPS, type Steps, stepBack, stepForward, stepOn } from './steps.ts';

export interface Draft {
  readonly view: DraftView;
  readonly definition: DefinedForm;
  readonly saving: boolean;
  readonly trouble: string;
  /** The draft as somebody else has saved it meanwhile: nothing of this one is saved until a builder decides. */
  readonly theirs?: DraftView;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  change(definition: DefinedForm): void;
  undo(): void;
  redo(): void;
  publish(): Promise<boolean>;
  /** Goes on with what the other builder saved, or saves this draft over it. Either can be undone. */
  decide(keep: 'theirs' | 'mine'): void;
}

/** Steps by form with the draft's revision that they belong to: leaving the form editor and coming back keeps them. */
const kept = new Map<string, { readonly steps: Steps<DefinedForm>; readonly revision?: number }>();

/** A form's draft: every change shows at once, is saved as it is made, one after the other, and can be undone. */
export function useDraft(form: IdOfForm): { draft?: Draft; error?: Error } {
  const query = useQuery({
    queryKey: ['draft', form],
    queryFn: () => send<DraftView>('GET', `/api/forms/${form}/draft`),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  const refresh = useRefreshCabinet();
  const [shown, setShown] = useState<DefinedForm>();
  const [steps, setSteps] = useState(() => kept.get(form));
  const saving = useSavedDraft(form);
  const { saved, theirs, revision } = saving;
  const view = saved ?? query.data;
  const definition = shown ?? view?.definition;

  if (query.error) return { error: query.error };
  if (!view || !definition) return {};
  // Steps of an earlier visit count if nobody has changed the draft since.
  const outdated = revision.current === undefined && steps?.revision !== view.revision;
  if (outdated) kept.delete(form);
  const there: Steps<DefinedForm> = (outdated ? undefined : steps?.steps) ?? NO_STEPS;
  revision.current ??= view.revision;
  const show = (next: DefinedForm, after: Steps<DefinedForm>): void => {
    const now = { steps: after, revision: revision.current };
    kept.set(form, now);
    setSteps(now);
    setShown(next);
  };
  const walk = (to: ReturnType<typeof stepBack<DefinedForm>>): void => {
    if (!to) return;
    show(to.shown, to.steps);
    saving.save(to.shown);
  };
  return {
    draft: {
      view,
      definition,
      saving: saving.pending > 0,
      trouble: saving.trouble,
      theirs,
      canUndo: there.past.length > 0,
      canRedo: there.future.length > 0,
      change: (next) => {
        show(next, stepOn(there, definition));
        saving.save(next);
      },
      undo: () => walk(stepBack(there, definition)),
      redo: () => walk(stepForward(there, definition)),
      decide: (keep) => {
        if (!theirs) return;
        saving.take(theirs);
        const other = keep === 'theirs' ? definition : theirs.definition;
        show(keep === 'theirs' ? theirs.definition : definition, stepOn(there, other));
        if (keep === 'mine') saving.save(definition);
      },
      publish: () => saving.publish().then((done) => (done ? refresh().then(() => true) : false)),
    },
  };
}

/**
 * Saves a form's draft, one change after the other. After a save that somebody else came before, `theirs` is what they
 * saved, and nothing is saved until it is taken.
 */
function useSavedDraft(form: IdOfForm) {
  const queries = useQueryClient();
  const [saved, setShownSaved] = useState<DraftView>();
  // Another page of the same form, opened from here, begins with what was saved last.
  const setSaved = (draft: DraftView): void => {
    queries.setQueryData(['draft', form], draft);
    setShownSaved(draft);
  };
  const [pending, setPending] = useState(0);
  const [trouble, setTrouble] = useState('');
  const [theirs, setTheirs] = useState<DraftView>();
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const revision = useRef<number>(undefined);
  const divided = useRef(false);
  const address = `/api/forms/${form}`;
  const handleFailure = async (error: Error): Promise<void> => {
    if (!(error instanceof ServerProblem && error.document.status === 409)) return setTrouble(error.message);
    divided.current = true;
    await send<DraftView>('GET', `${address}/draft`).then(setTheirs, (lost: Error) => {
      // The next change asks again.
      divided.current = false;
      setTrouble(lost.message);
    });
  };
  const save = (definition: DefinedForm): void => {
    setPending((n) => n + 1);
    const task = queue.current.then(async () => {
      // Until a builder has decided between two drafts, this one waits.
      if (divided.current) return;
      const answer = await send<DraftView>('PUT', `${address}/draft`, { definition, revision: revision.current });
      revision.current = answer.revision;
      kept.set(form, { steps: kept.get(form)?.steps ?? NO_STEPS, revision: answer.revision });
      setSaved(answer);
    });
    queue.current = task.catch(() => undefined);
    task.then(() => setTrouble(''), handleFailure).finally(() => setPending((n) => n - 1));
  };
  const take = (draft: DraftView): void => {
    divided.current = false;
    revision.current = draft.revision;
    setSaved(draft);
    setTheirs(undefined);
  };
  /** False when it was refused; why is in `trouble`. */
  const publish = async (): Promise<boolean> => {
    await queue.current;
    try {
      setSaved(await send<DraftView>('POST', `${address}/publish`, { revision: revision.current }));
      setTrouble('');
      return true;
    } catch (error) {
      setTrouble((error as Error).message);
      return false;
    }
  };
  return { saved, pending, trouble, theirs, revision, save, take, publish };
}
