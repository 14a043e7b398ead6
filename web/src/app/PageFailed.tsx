import { say } from '@fiche/core/languages';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import { useRouteError } from 'react-router-dom';
import { pageCss } from '../parts/index.ts';

/** Stands in the place of a page that could not be drawn: says so, and offers to load it again. */
export function PageFailed() {
  const error = useRouteError();
  return (
    <div className={pageCss.body}>
      <Alert
        severity="error"
        action={<Button onClick={() => window.location.reload()}>{say('Load the page again')}</Button>}
        sx={{ maxWidth: 720 }}
      >
        {say(
          'This page could not be shown. What was saved is safe. If it happens again, tell your administrator what you did last{error}.',
          { error: error instanceof Error ? say(', and these words: “{message}”', { message: error.message }) : '' },
        )}
      </Alert>
    </div>
  );
}
