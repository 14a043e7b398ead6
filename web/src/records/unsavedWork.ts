import type { Unsaved } from '@fiche/core/entry';
import { useEffect, useRef } from 'react';

/** Work that was left unsaved, as it is kept in this browser. */
export interface KeptWork {
  readonly at: string;
  /** The tab that it is from. */
  readonly tab: string;
  /** When that tab was last known to be open, in ms. */
  readonly seen: number;
  /** That tab has said that it closes. */
  readonly closed: boolean;
  readonly unsaved: Unsaved;
}

const WAIT_MS = 400;
const BEAT_MS = 5_000;
/** A tab that has been silent so long is closed. */
const SILENT_MS = 3 * BEAT_MS;
/** Work older than this is of no use to anybody. */
const OLD_MS = 14 * 86_400_000;

/** This tab, also after a reload. */
function tabNow(): string {
  const known = sessionStorage.getItem('fiche:tab');
  if (known) return known;
  const tab = crypto.randomUUID();
  sessionStorage.setItem('fiche:tab', tab);
  return tab;
}

const keyOf = (place: string, tab: string): string => `fiche:work:${place}:${tab}`;

/** The work that was left at a place (an account, a form, a record): this tab’s own first, else that of a closed tab. */
export function findWork(place: string): KeptWork | undefined {
  const found: KeptWork[] = [];
  for (let n = 0; n < localStorage.length; n++) {
    const key = localStorage.key(n);
    if (!key?.startsWith(`fiche:work:${place}:`)) continue;
    try {
      const work = JSON.parse(localStorage.getItem(key) ?? '') as KeptWork;
      if (Date.now() - work.seen > OLD_MS) localStorage.removeItem(key);
      else found.push(work);
    } catch {
      localStorage.removeItem(key);
    }
  }
  const tab = tabNow();
  return (
    found.find((one) => one.tab === tab) ??
    found.filter((one) => one.closed || Date.now() - one.seen > SILENT_MS).sort((a, b) => b.seen - a.seen)[0]
  );
}

/** Forgets work that was saved, taken up elsewhere, or thrown away. */
export const forgetWork = (place: string, tab = tabNow()): void => localStorage.removeItem(keyOf(place, tab));

/**
 * Keeps what is entered at a place while it is unsaved, and forgets it once it is saved or put back. Work that was taken
 * up from another tab is this one’s from then on.
 */
export function useKeptWork(
  place: string,
  unsaved: (() => Unsaved | undefined) | undefined,
  changed: unknown,
  takenFrom?: string,
): void {
  const latest = useRef(unsaved);
  latest.current = unsaved;
  const began = useRef('');
  // biome-ignore lint/correctness/useExhaustiveDependencies: each change starts the wait anew.
  useEffect(() => {
    const keep = (closed = false): void => {
      const work = latest.current?.();
      if (!work) {
        if (began.current !== '') forgetWork(place);
        began.current = '';
        return;
      }
      if (began.current === '') began.current = new Date().toISOString();
      const kept: KeptWork = { at: began.current, tab: tabNow(), seen: Date.now(), closed, unsaved: work };
      try {
        localStorage.setItem(keyOf(place, kept.tab), JSON.stringify(kept));
        if (takenFrom !== undefined && takenFrom !== kept.tab) forgetWork(place, takenFrom);
      } catch {
        // The browser’s store is full or closed: then nothing is kept, and leaving still asks.
      }
    };
    const wait = setTimeout(keep, WAIT_MS);
    const beat = setInterval(keep, BEAT_MS);
    const close = (): void => keep(true);
    window.addEventListener('pagehide', close);
    return () => {
      clearTimeout(wait);
      clearInterval(beat);
      window.removeEventListener('pagehide', close);
    };
  }, [place, changed, takenFrom]);
}

/** Work that was left unsaved at a form or table, to be found again from another page. */
export interface UnfinishedWork {
  readonly kind: 'forms' | 'tables';
  /** The form or table. */
  readonly of: string;
  /** `new`, or the number of the record. */
  readonly record: string;
  readonly work: KeptWork;
}

/** All work that an account left unsaved in this browser, newest first. */
export function unfinishedWork(login: string): UnfinishedWork[] {
  const found: UnfinishedWork[] = [];
  for (let n = 0; n < localStorage.length; n++) {
    const key = localStorage.key(n) ?? '';
    const [, kind, of, record] = /^fiche:work:[^:]*:\/api\/(forms|tables)\/([^:/]+):([^:]+):/.exec(key) ?? [];
    if (!key.startsWith(`fiche:work:${login}:`) || (kind !== 'forms' && kind !== 'tables') || !of || !record) continue;
    try {
      const work = JSON.parse(localStorage.getItem(key) ?? '') as KeptWork;
      if (Date.now() - work.seen <= OLD_MS) found.push({ kind, of, record, work });
    } catch {
      localStorage.removeItem(key);
    }
  }
  return found.sort((a, b) => b.work.seen - a.work.seen);
}
