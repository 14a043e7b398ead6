import { type RefObject, useEffect, useRef } from 'react';

/** Asks before the page is closed or left by its address while `unsaved`. Set the returned ref to leave without asking. */
export function useBlocker(unsaved: boolean): RefObject<boolean> {
  const leaving = useRef(false);
  useEffect(() => {
    if (!unsaved) return;
    const onUnload = (event: BeforeUnloadEvent): void => {
      if (!leaving.current) event.preventDefault();
    };
    const onClick = (event: MouseEvent): void => {
      const link = (event.target as Element | null)?.closest('a[href]');
      if (!link || leaving.current || link.getAttribute('target') === '_blank') return;
      if (window.confirm('What you entered here is not saved. Leave it?')) return;
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener('beforeunload', onUnload);
    document.addEventListener('click', onClick, true);
    return () => {
      window.removeEventListener('beforeunload', onUnload);
      document.removeEventListener('click', onClick, true);
    };
  }, [unsaved]);
  return leaving;
}
