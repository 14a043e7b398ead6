import { beginOfficeLanguage } from '../languages/index.ts';

// Screens keep texts of their own, so they are loaded once the language is there. Not awaited: they share scripts with this one.
void beginOfficeLanguage().then(() => import('./start.tsx'));
