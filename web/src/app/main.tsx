import '../parts/tokens.css';
import './frame.css';
import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { loadPatterns } from '@fiche/core/fields';
import { ThemeProvider } from '@mui/material/styles';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { createRoot } from 'react-dom/client';
import { SaidProvider } from '../parts/index.ts';
import { App } from './App.tsx';
import { theme } from './theme.ts';

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;
const styles = createCache({ key: 'fiche', nonce, prepend: true });
// What is open is not fetched again behind a person’s back: a card that is being changed would begin anew.
const queries = new QueryClient({
  defaultOptions: { queries: { retry: false, refetchOnWindowFocus: false, refetchOnReconnect: false } },
});

await loadPatterns();
const root = document.getElementById('root');
if (root)
  createRoot(root).render(
    <CacheProvider value={styles}>
      <ThemeProvider theme={theme}>
        <QueryClientProvider client={queries}>
          <SaidProvider>
            <App />
          </SaidProvider>
        </QueryClientProvider>
      </ThemeProvider>
    </CacheProvider>,
  );
