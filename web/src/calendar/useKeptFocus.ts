import { useEffect, useRef } from 'react';

/** Gives a period that is moved by keys the focus again where it is drawn in another lane, also once it is put down. */
export function useKeptFocus(body: { readonly current: HTMLElement | null }, moved: number | undefined): void {
  const kept = useRef<number>(undefined);
  if (moved !== undefined) kept.current = moved;
  useEffect(() => {
    if (kept.current === undefined) return;
    if (document.activeElement === document.body)
      body.current?.querySelector<HTMLElement>(`[data-period="${kept.current}"]`)?.focus();
    // Whoever has gone on to something else keeps it.
    else if (!document.activeElement?.closest(`[data-period="${kept.current}"]`)) kept.current = undefined;
  });
}
