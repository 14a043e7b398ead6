import type { PageText, TextKind } from '@fiche/core/forms';
import { languageName, say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { useEffect, useRef, useState } from 'react';
import { CheckField, FileButton, settingsCss, takeAway, textCss, useNotify } from '../parts/index.ts';
import { TextControl } from '../tables/index.ts';
import type { PageSettingsProps } from './pageSettingsProps.ts';
import pagesCss from './pages.module.css';
import { readTranslations, translationsCsv } from './translationsCsv.ts';
import { useTexts } from './useTexts.ts';

const KIND_WORDS: Readonly<Record<TextKind, string>> = {
  page: say('The page'),
  label: say('Labels'),
  help: say('Help'),
  rule: say('What is said when something is wrong'),
  choice: say('Choices'),
  mail: say('The confirmation by mail'),
};

interface TranslationsProps extends PageSettingsProps {
  readonly form: string;
  readonly language: string;
  onClose(): void;
}

/** Every text of a page beside what it is in another language: typed here, or taken away to a translator and brought back. */
export function Translations({ form, definition, page, tables, language, onSet, onClose }: TranslationsProps) {
  const notify = useNotify();
  const [missing, setMissing] = useState(false);
  const texts = useTexts(form, definition, tables);
  const heading = useRef<HTMLHeadingElement>(null);
  // On a phone the texts stand below all settings: reading goes on there.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each language.
  useEffect(() => heading.current?.focus(), [language]);
  const given = page.translations?.[language] ?? {};
  const name = languageName(language);
  const set = (change: Readonly<Record<string, string>>): void => {
    const next = Object.fromEntries(Object.entries({ ...given, ...change }).filter(([, said]) => said !== ''));
    onSet({ translations: { ...page.translations, [language]: next } });
  };
  const bringIn = async (file: File): Promise<void> => {
    try {
      const { found, others } = await readTranslations(await file.text(), texts);
      set(found);
      notify(
        say('{count} texts taken from {name}.{others}', {
          count: Object.keys(found).length,
          name: file.name,
          others: others > 0 ? ` ${say('{others} lines are no text of this page and were left out.', { others })}` : '',
        }),
        () => onSet({ translations: { ...page.translations, [language]: given } }),
      );
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const giveToTranslator = async (): Promise<void> => {
    takeAway(`${page.slug}-${language}.csv`, 'text/csv', await translationsCsv(texts, given, language));
  };
  const shown = texts.filter(({ text }) => !missing || !given[text]);
  return (
    <div className={pagesCss.texts}>
      <header className={pagesCss.previewLine}>
        <h2 ref={heading} tabIndex={-1}>
          {say('Texts in {name}', { name })}
        </h2>
        <span className={textCss.faded}>
          {say('{count} of {more}; a text without one stays as it is written.', {
            count: texts.filter(({ text }) => given[text]).length,
            more: texts.length,
          })}
        </span>
        <Button className={pagesCss.end} onClick={onClose}>
          {say('Back to the preview')}
        </Button>
      </header>
      <div className={settingsCss.acts}>
        <CheckField label={say('Only those that are missing')} checked={missing} onChange={setMissing} />
        <Button onClick={() => void giveToTranslator()}>{say('Take away as CSV')}</Button>
        <FileButton
          label={say('Bring in a CSV')}
          accept=".csv,text/csv"
          variant="outlined"
          onChoose={(file) => void bringIn(file)}
        />
      </div>
      {shown.length === 0 && (
        <p className={textCss.faded}>{say('Every text of the page is there in {name}.', { name })}</p>
      )}
      {(Object.keys(KIND_WORDS) as TextKind[]).map((kind) => (
        <TextsOfKind
          key={kind}
          title={KIND_WORDS[kind]}
          texts={shown.filter((one) => one.kind === kind)}
          given={given}
          name={name}
          onSet={set}
        />
      ))}
    </div>
  );
}

interface TextsOfKindProps {
  readonly title: string;
  readonly texts: readonly PageText[];
  readonly given: Readonly<Record<string, string>>;
  /** The name of the language. */
  readonly name: string;
  onSet(change: Readonly<Record<string, string>>): void;
}

function TextsOfKind({ title, texts, given, name, onSet }: TextsOfKindProps) {
  if (texts.length === 0) return null;
  return (
    <section aria-label={title}>
      <h3>{title}</h3>
      {texts.map(({ text }) => (
        <div key={text} className={pagesCss.text}>
          <p>{text}</p>
          <TextControl
            key={given[text] ?? ''}
            label={say('{count} in {name}', { count: text.length > 60 ? `${text.slice(0, 60)}…` : text, name })}
            hiddenLabel
            text={given[text] ?? ''}
            none={name}
            multiline
            onSet={(said) => onSet({ [text]: said })}
          />
        </div>
      ))}
    </section>
  );
}
