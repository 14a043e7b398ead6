import type { Choice } from '@fiche/core/narrowing';
import { lazy, Suspense } from 'react';
import type { ChoiceOptionsProps } from './ChoiceOptions.tsx';

const load = () => import('./ChoiceOptions.tsx');
const ChoiceOptions = lazy(load);

/** Fetches the list’s part of the page’s script: for a dropdown that is about to be opened. */
export const preloadChoiceList = (): void => void load();

/** The open list of a dropdown, whose part of the page’s script is fetched when a dropdown is first entered. */
export const ChoiceList = (props: ChoiceOptionsProps) => (
  <Suspense fallback={null}>
    <ChoiceOptions {...props} />
  </Suspense>
);

/** The choice that is highlighted in a list; undefined where the highlight still stands on a list of a moment ago. */
export const highlighted = (input: Element, found: readonly Choice[]): Choice | undefined =>
  found[Number(/-option-(\d+)$/.exec(input.getAttribute('aria-activedescendant') ?? '')?.[1] ?? -1)];
