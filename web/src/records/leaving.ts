import { type RefObject, useEffect, useRef } from 'react';
import { useBlocker } from 'react-router-dom';

/** Asks before a page with unsaved work is left, by whatever way. Set the returned ref to leave without asking. */
export function useLeaving(unsaved: boolean): RefObject<boolean> {
  const leaving = useRef(false);
  const blocker = useBlocker(() => unsaved && !leaving.current);
  useEffect(() => {
    if (blocker.state !== 'blocked') return;
    if (window.confirm('What you entered here is not saved. Leave it?')) blocker.proceed();
    else blocker.reset();
  }, [blocker]);
  useEffect(() => {
    if (!unsaved) return;
    const onUnload = (event: BeforeUnloadEvent): void => {
      if (!leaving.current) event.preventDefault();
    };
    window.addEventListener('beforeunload', onUnload);
    return () => window.removeEventListener('beforeunload', onUnload);
  }, [unsaved]);
  return leaving;
}
