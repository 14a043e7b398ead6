import '../parts/tokens.css';
import { createRoot } from 'react-dom/client';
import { FicheTheme } from '../parts/index.ts';
import { PublicPage } from './PublicPage.tsx';

const root = document.getElementById('root');
const slug = decodeURIComponent(window.location.pathname.replace(/^\/p\//, '').replace(/\/$/, ''));
if (root)
  createRoot(root).render(
    <FicheTheme>
      <PublicPage slug={slug} />
    </FicheTheme>,
  );
