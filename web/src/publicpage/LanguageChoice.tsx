import { languageName, say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import publicPageCss from './publicPage.module.css';

interface LanguageChoiceProps {
  readonly language: string;
  readonly languages: readonly string[];
  onChoose(language: string): void;
}

/** The languages in which a page can be read, each by its own name. */
export function LanguageChoice({ language, languages, onChoose }: LanguageChoiceProps) {
  if (languages.length < 2) return null;
  return (
    <nav className={publicPageCss.languages} aria-label={say('Languages of this page')}>
      {languages.map((one) => (
        <Button
          key={one}
          variant="text"
          lang={one}
          aria-current={one === language ? 'true' : undefined}
          onClick={() => one !== language && onChoose(one)}
        >
          {languageName(one, one)}
        </Button>
      ))}
    </nav>
  );
}
