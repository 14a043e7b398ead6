import { type EntryState, isDirty, type Unsaved, unsavedOf } from '@fiche/core/entry';
import { useEffect, useRef } from 'react';

const WAIT_MS = 400;
const keyOf = (slug: string): string => `fiche:answers:${slug}`;

/**
 * What was entered on a page and not sent. It lives as long as the tab: a phone that drops a page from its memory loses
 * nothing, and on a computer that many use nobody finds the answers of another.
 */
export function keptAnswers(slug: string): Unsaved | undefined {
  try {
    const kept = sessionStorage.getItem(keyOf(slug));
    return kept === null ? undefined : (JSON.parse(kept) as Unsaved);
  } catch {
    return undefined;
  }
}

export function forgetAnswers(slug: string): void {
  try {
    sessionStorage.removeItem(keyOf(slug));
  } catch {
    // A store that is closed holds nothing.
  }
}

/** Keeps the answers of a page while they are not sent; not where an answer is corrected, which is kept already. */
export function useKeptAnswers(slug: string, state: EntryState, isNew: boolean): void {
  const latest = useRef(state);
  latest.current = state;
  // biome-ignore lint/correctness/useExhaustiveDependencies: each change starts the wait anew.
  useEffect(() => {
    const keep = (): void => {
      if (!isNew || latest.current.phase.kind === 'saving') return;
      try {
        if (isDirty(latest.current)) sessionStorage.setItem(keyOf(slug), JSON.stringify(unsavedOf(latest.current)));
        else sessionStorage.removeItem(keyOf(slug));
      } catch {
        // A store that is full or closed keeps nothing.
      }
    };
    const wait = setTimeout(keep, WAIT_MS);
    window.addEventListener('pagehide', keep);
    return () => {
      clearTimeout(wait);
      window.removeEventListener('pagehide', keep);
    };
  }, [slug, state, isNew]);
}
