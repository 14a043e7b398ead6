import { say } from '@fiche/core/languages';
import { type ComponentType, lazy, Suspense } from 'react';
import { textCss } from '../parts/index.ts';
import type { Input, InputProps } from './input.ts';

/** An input whose part of the page’s script is fetched when a form has such a field. */
export function lazyInput(load: () => Promise<{ default: ComponentType<InputProps> }>): Input {
  const Loaded = lazy(load);
  return (props) => (
    <Suspense fallback={<span className={textCss.faded}>{say('Fetching…')}</span>}>
      <Loaded {...props} />
    </Suspense>
  );
}
