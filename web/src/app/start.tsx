import '../parts/tokens.css';
import { loadExpressions } from '@fiche/core/expressions';
import { loadPatterns } from '@fiche/core/fields';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { createRoot } from 'react-dom/client';
import { isPassing } from '../client/index.ts';
import { FicheTheme, NoticesProvider } from '../parts/index.ts';
import { App } from './App.tsx';
import { applyDensity } from './density.ts';

// Open data is not fetched again when the window gets the focus: a card that is being changed would start over.
const queries = new QueryClient({
  defaultOptions: {
    queries: {
      // What is read is asked for twice more, at once and a second later; what is written only by whoever writes it.
      retry: (failures, error) => failures < 2 && isPassing(error),
      retryDelay: (failures) => 200 + 1_000 * failures,
      refetchOnWindowFocus: false,
      refetchOnReconnect: false,
    },
  },
});

applyDensity();
await Promise.all([loadPatterns(), loadExpressions()]);
const root = document.getElementById('root');
if (root)
  createRoot(root).render(
    <FicheTheme>
      <QueryClientProvider client={queries}>
        <NoticesProvider>
          <App />
        </NoticesProvider>
      </QueryClientProvider>
    </FicheTheme>,
  );
