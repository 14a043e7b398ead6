import { lazy, Suspense } from 'react';
import type { InputProps } from './input.ts';

const AttachmentsInput = lazy(() => import('./AttachmentsInput.tsx'));

/** Attachments have their own part of the page’s script: most forms have none. */
export const LazyAttachments = (props: InputProps) => (
  <Suspense fallback={<span className="faded">Fetching…</span>}>
    <AttachmentsInput {...props} />
  </Suspense>
);
