import { say } from '@fiche/core/languages';
import { ProgressBar } from '../parts/index.ts';
import publicPageCss from './publicPage.module.css';
import type { Steps } from './useSteps.ts';

/** Which step of how many, and how far that is. */
export function StepHead({ steps }: { readonly steps: Steps }) {
  const { at, count } = steps;
  const words = say('Step {step} of {steps}', { step: at + 1, steps: count });
  return (
    <div className={publicPageCss.step}>
      <p id="page-step" tabIndex={-1}>
        {words}
      </p>
      <ProgressBar label={words} share={(at + 1) / count} />
    </div>
  );
}
