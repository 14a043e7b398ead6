import { say } from '@fiche/core/languages';
import { type RefObject, useEffect, useRef } from 'react';
import { useBlocker } from 'react-router-dom';

/**
 * Asks before a page with unsaved work is left, by whatever way; `onLeft` is called when a person leaves it all the same.
 * Set the returned ref to leave without asking.
 */
export function useLeaving(unsaved: boolean, onLeft: () => void): RefObject<boolean> {
  const leaving = useRef(false);
  const latest = useRef(onLeft);
  latest.current = onLeft;
  const blocker = useBlocker(() => unsaved && !leaving.current);
  useEffect(() => {
    if (blocker.state !== 'blocked') return;
    if (!window.confirm(say('What you entered is not saved. Leave this page?'))) return blocker.reset();
    leaving.current = true;
    latest.current();
    blocker.proceed();
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
