import { languageName, SPOKEN_LANGUAGES, say } from '@fiche/core/languages';
import { MOST_LANGUAGES } from '@fiche/core/pages';
import Button from '@mui/material/Button';
import { SelectField, type SelectOption, settingsCss, textCss, useNotify } from '../parts/index.ts';
import type { PageSettingsProps } from './pageSettingsProps.ts';
import pagesCss from './pages.module.css';
import { useTexts } from './useTexts.ts';

/** Languages in which labels can be given while the page’s own words stay English. */
const OTHERS = 'ar bg cs da el et fi ga he hr hu is it lt lv mt nb nl pl pt-BR pt ro ru sk sl sv tr uk zh'.split(' ');

const GROUPS = { spoken: say('The page speaks them itself'), others: say('Labels only: its own words stay English') };

/** Languages to choose from, those that the page speaks itself first. */
function languageOptions(without: readonly string[]): SelectOption[] {
  const of = (languages: readonly string[], group: string): SelectOption[] =>
    languages
      .filter((one) => !without.includes(one))
      .map((value) => ({ value, label: languageName(value), group }))
      .sort((a, b) => a.label.localeCompare(b.label, 'en'));
  return [...of(SPOKEN_LANGUAGES, GROUPS.spoken), ...of(OTHERS, GROUPS.others)];
}

interface LanguageSettingsProps extends PageSettingsProps {
  readonly form: string;
  /** The language whose texts are open beside the settings. */
  readonly open: string | undefined;
  onOpen(language: string | undefined): void;
}

/** The language that the page is written in, and those in which it can be read besides. */
export function LanguageSettings({ form, definition, page, tables, open, onOpen, onSet }: LanguageSettingsProps) {
  const notify = useNotify();
  const { translations = {}, language = 'en' } = page;
  const texts = useTexts(form, definition, tables);
  const given = Object.keys(translations);
  const set = (next: NonNullable<typeof page.translations>): void =>
    onSet({ translations: Object.keys(next).length === 0 ? undefined : next });
  const remove = (one: string): void => {
    const { [one]: gone, ...rest } = translations;
    set(rest);
    if (open === one) onOpen(undefined);
    notify(say('The page can no longer be read in {one}.', { one: languageName(one) }), () =>
      set({ ...rest, [one]: gone ?? {} }),
    );
  };
  return (
    <div className={settingsCss.form}>
      <SelectField
        label={say('Its labels are written in')}
        value={language}
        options={languageOptions(given)}
        help={say('Buttons, messages and dates of the page are in this language, too.')}
        onChange={(next) => onSet({ language: next === 'en' ? undefined : next })}
      />
      {given.map((one) => {
        const done = texts.filter(({ text }) => translations[one]?.[text]).length;
        return (
          <div key={one} className={pagesCss.translated}>
            <span>
              {languageName(one)}{' '}
              <span className={textCss.faded}>{say('{done} of {count} texts', { done, count: texts.length })}</span>
            </span>
            <Button
              aria-pressed={open === one}
              aria-label={say('Texts in {one}', { one: languageName(one) })}
              onClick={() => onOpen(open === one ? undefined : one)}
            >
              {say('Texts')}
            </Button>
            <Button
              variant="text"
              aria-label={say('Remove {one}', { one: languageName(one) })}
              onClick={() => remove(one)}
            >
              {say('Remove')}
            </Button>
          </div>
        );
      })}
      {given.length < MOST_LANGUAGES && (
        <SelectField
          label={say('It can also be read in')}
          value=""
          options={[{ value: '', label: say('add a language') }, ...languageOptions([language, ...given])]}
          onChange={(next) => {
            if (next === '') return;
            set({ ...translations, [next]: {} });
            onOpen(next);
          }}
        />
      )}
    </div>
  );
}
