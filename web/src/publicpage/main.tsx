import '../parts/tokens.css';
import { createRoot } from 'react-dom/client';
import { keepPageAccess, keepPageLanguage } from '../client/index.ts';
import { FicheTheme } from '../parts/index.ts';
import { readAddress } from './address.ts';
import { languageOf } from './language.ts';
import { PublicPage } from './PublicPage.tsx';
import { tellHeight } from './tellHeight.ts';

const root = document.getElementById('root');
const address = readAddress(new URL(window.location.href));
keepPageAccess(address.access);
const language = languageOf(window.location.search);
if (language !== undefined) keepPageLanguage(language);
if (root) {
  tellHeight(root);
  createRoot(root).render(
    <FicheTheme>
      <PublicPage address={address} />
    </FicheTheme>,
  );
}
