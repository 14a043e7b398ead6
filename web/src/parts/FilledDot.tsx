import { clsx } from 'clsx';
import { lazy, Suspense } from 'react';
import ruledCss from './ruled.module.css';

// Tooltips have their own part of the page’s script: a form needs them when something is filled.
const Tooltip = lazy(() => import('@mui/material/Tooltip'));

/** Where a value came from. */
export interface Filled {
  readonly words: string;
  /** True when it has been typed over, or its source says something else since: then it is said at once. */
  readonly differs: boolean;
  /** What filling it again is called; nothing where it cannot be. */
  readonly again?: string;
  onAgain(): void;
}

/** The ochre dot at the end of a filled value’s line; hollow where the value differs from its source. */
export function FilledDot({ filled }: { filled: Pick<Filled, 'words' | 'differs'> }) {
  const dot = (
    <span className={clsx(ruledCss.dot, filled.differs && ruledCss.differs)} role="img" aria-label={filled.words} />
  );
  return (
    <Suspense fallback={dot}>
      <Tooltip title={filled.words}>{dot}</Tooltip>
    </Suspense>
  );
}
