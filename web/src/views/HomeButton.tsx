import type { ViewView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { useNotify } from '../parts/index.ts';
import { useHome } from './useHome.ts';

/** Puts a view on one’s own Home, or takes it off again. */
export function HomeButton({ view }: { readonly view: Pick<ViewView, 'id' | 'label'> }) {
  const { home, has, add, remove } = useHome();
  const notify = useNotify();
  if (!home) return null;
  const on = has(view.id);
  const change = (): void => {
    (on ? remove(view.id) : add(view.id)).then(
      () =>
        notify(
          on
            ? say('{label} is off your Home.', { label: view.label })
            : say('{label} is on your Home.', { label: view.label }),
        ),
      (error: Error) => notify(error.message),
    );
  };
  return (
    <Button variant="text" onClick={change}>
      {on ? say('Take off Home') : say('Put on Home')}
    </Button>
  );
}
