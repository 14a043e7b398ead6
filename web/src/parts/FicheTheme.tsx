import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { ThemeProvider } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { theme } from './theme.ts';

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;
// The theme’s styles come first: what lies beside a component can override them.
const styles = createCache({ key: 'fiche', nonce, prepend: true });

/** The theme for everything inside, with the colour scheme of the account menu, or else of the system. */
export function FicheTheme({ children }: { children: ReactNode }) {
  return (
    <CacheProvider value={styles}>
      <ThemeProvider theme={theme} defaultMode="system" modeStorageKey="fiche.scheme">
        {children}
      </ThemeProvider>
    </CacheProvider>
  );
}
