import type { Reading } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { currentOffice } from '@fiche/core/office';
import { useEffect, useState } from 'react';
import { ownLanguage } from '../languages/index.ts';
import type { LookAnswer, LookRequest } from './look.worker.ts';

export type Looked = Extract<LookAnswer, { kind: 'looked' }>;

/** Looks at a file in a worker, so that the page stays quick: what it is, its columns, and what they seem to hold. */
export function useLook(file: Blob | undefined, said: Partial<Reading>) {
  const [state, setState] = useState<{ looked?: Looked; wrong?: string; share?: number }>({});
  useEffect(() => {
    if (!file) {
      setState({});
      return undefined;
    }
    const worker = new Worker(new URL('./look.worker.ts', import.meta.url), { type: 'module' });
    // What was found of another file, or by another reading, is nothing of this one.
    setState({ share: 0 });
    worker.onmessage = ({ data }: MessageEvent<LookAnswer>) => {
      if (data.kind === 'progress') setState((before) => ({ ...before, share: data.share }));
      else if (data.kind === 'wrong') setState({ wrong: data.message });
      else setState({ looked: data });
    };
    worker.onerror = () =>
      setState({ wrong: say('This file cannot be read. Save it as CSV, XLSX, JSON or XML and choose it again.') });
    worker.postMessage({ file, said, office: currentOffice(), language: ownLanguage() } satisfies LookRequest);
    return () => worker.terminate();
  }, [file, said]);
  return state;
}
