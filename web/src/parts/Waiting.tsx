import { say } from '@fiche/core/languages';
import { useEffect, useState } from 'react';
import pageCss from './page.module.css';

const QUIET_MS = 300;

/** Shows that something is being waited for, once it takes longer than a glance. */
export function Waiting({ what = say('Fetching…') }: { what?: string }) {
  const [shown, setShown] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setShown(true), QUIET_MS);
    return () => clearTimeout(timer);
  }, []);
  return shown ? (
    <p className={pageCss.empty} role="status">
      {what}
    </p>
  ) : null;
}
