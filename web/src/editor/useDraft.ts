import type { DraftView } from '@fiche/core/api';
import type { DefinedForm } from '@fiche/core/forms';
import { useQuery } from '@tanstack/react-query';
import { useCallback, useRef, useState } from 'react';
import { ServerProblem, send, useRefreshCabinet } from '../client/index.ts';

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

/** The steps that can be undone and redone, and the revision of the draft that they belong to. */
interface Steps {
  readonly past: readonly DefinedForm[];
  readonly future: readonly DefinedForm[];
  readonly revision?: number;
}

const NO_STEPS: Steps = { past: [], future: [] };
const MOST_STEPS = 100;
/** Steps by form, for as long as the page is open: leaving the form editor and coming back keeps them. */
const kept = new Map<string, Steps>();

/** A form's draft: every change shows at once, is saved as it is made, one after the other, and can be undone. */
export function useDraft(form: string): { draft?: Draft; error?: Error } {
  const query = useQuery({
    queryKey: ['draft', form],
    queryFn: () => send<DraftView>('GET', `/api/forms/${form}/draft`),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  const refresh = useRefreshCabinet();
  const [saved, setSaved] = useState<DraftView>();
  const [shown, setShown] = useState<DefinedForm>();
  const [steps, setSteps] = useState(() => kept.get(form) ?? NO_STEPS);
  const [pending, setPending] = useState(0);
  const [trouble, setTrouble] = useState('');
  const [theirs, setTheirs] = useState<DraftView>();
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const revision = useRef<number>(undefined);
  const divided = useRef(false);

  const view = saved ?? query.data;
  const definition = shown ?? view?.definition;

  const save = useCallback(
    (next: DefinedForm): void => {
      setShown(next);
      setPending((n) => n + 1);
      const task = queue.current.then(async () => {
        // Until a builder has decided between two drafts, this one waits.
        if (divided.current) return;
        const answer = await send<DraftView>('PUT', `/api/forms/${form}/draft`, {
          definition: next,
          revision: revision.current,
        });
        revision.current = answer.revision;
        kept.set(form, { ...(kept.get(form) ?? NO_STEPS), revision: answer.revision });
        setSaved(answer);
      });
      queue.current = task.catch(() => undefined);
      task.then(() => setTrouble(''), meet).finally(() => setPending((n) => n - 1));

      async function meet(error: Error): Promise<void> {
        if (error instanceof ServerProblem && error.document.status === 409) {
          divided.current = true;
          await send<DraftView>('GET', `/api/forms/${form}/draft`).then(setTheirs, (lost: Error) => {
            // The next change asks again.
            divided.current = false;
            setTrouble(lost.message);
          });
        } else setTrouble(error.message);
      }
    },
    [form],
  );

  if (query.error) return { error: query.error };
  if (!view || !definition) return {};
  // Steps of an earlier visit count if nobody has changed the draft since.
  if (revision.current === undefined && steps.revision !== view.revision) kept.delete(form);
  const { past, future } = revision.current === undefined && steps.revision !== view.revision ? NO_STEPS : steps;
  revision.current ??= view.revision;
  const step = (next: Steps): void => {
    const cut = { past: next.past.slice(-MOST_STEPS), future: next.future, revision: revision.current };
    kept.set(form, cut);
    setSteps(cut);
  };
  return {
    draft: {
      view,
      definition,
      saving: pending > 0,
      trouble,
      theirs,
      canUndo: past.length > 0,
      canRedo: future.length > 0,
      change: (next) => {
        step({ past: [...past, definition], future: [] });
        save(next);
      },
      undo: () => {
        const last = past.at(-1);
        if (!last) return;
        step({ past: past.slice(0, -1), future: [definition, ...future] });
        save(last);
      },
      redo: () => {
        const [next, ...rest] = future;
        if (!next) return;
        step({ past: [...past, definition], future: rest });
        save(next);
      },
      decide: (keep) => {
        if (!theirs) return;
        divided.current = false;
        revision.current = theirs.revision;
        setSaved(theirs);
        setTheirs(undefined);
        step({ past: [...past, keep === 'theirs' ? definition : theirs.definition], future: [] });
        if (keep === 'theirs') setShown(theirs.definition);
        else save(definition);
      },
      publish: async () => {
        await queue.current;
        try {
          const answer = await send<DraftView>('POST', `/api/forms/${form}/publish`, { revision: revision.current });
          setSaved(answer);
          setTrouble('');
          await refresh();
          return true;
        } catch (error) {
          setTrouble((error as Error).message);
          return false;
        }
      },
    },
  };
}
