import { holdsAddress } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { CONFIRMATION_PLACES, PAGE_STYLE_WORDS, PAGE_STYLES, type PageWords, type PublicPage } from '@fiche/core/pages';
import { CheckField, SelectField, settingsCss, textCss } from '../parts/index.ts';
import { locales } from '../settings/index.ts';
import { TextControl } from '../tables/index.ts';
import { fieldsOfPage } from './fieldsOfPage.ts';
import { MomentField } from './MomentField.tsx';
import type { PageSettingsProps } from './pageSettingsProps.ts';

/** The address of the page, its words, and how it looks. */
export function WordSettings({ page, onSet }: PageSettingsProps) {
  const { words = {} } = page;
  const setWord = (change: PageWords): void => {
    const next = Object.fromEntries(Object.entries({ ...words, ...change }).filter(([, text]) => text !== ''));
    onSet({ words: Object.keys(next).length === 0 ? undefined : next });
  };
  const own = (label: string, key: keyof PageWords, standard: string) => (
    <TextControl
      key={`${key} ${words[key] ?? ''}`}
      label={label}
      text={words[key] ?? ''}
      none={standard}
      onSet={(text) => setWord({ [key]: text })}
    />
  );
  return (
    <div className={settingsCss.form}>
      <TextControl
        key={page.slug}
        label={say('Address')}
        text={page.slug}
        hint={say('Opens at /p/{slug}', { slug: page.slug })}
        onSet={(slug) => {
          if (!/^[a-z0-9][a-z0-9-]{1,60}$/i.test(slug))
            throw new Error(say('An address has small letters, digits and hyphens only.'));
          onSet({ slug: slug.toLowerCase() });
        }}
      />
      <SelectField
        label={say('Style')}
        value={page.style ?? 'card'}
        options={PAGE_STYLES.map((value) => ({ value, label: say(PAGE_STYLE_WORDS[value]) }))}
        onChange={(style) => onSet({ style: style === 'card' ? undefined : (style as PublicPage['style']) })}
      />
      <SelectField
        label={say('Numbers and dates as in')}
        value={page.locale ?? ''}
        options={[
          { value: '', label: say('the office') },
          ...locales(page.locale ?? 'en-GB').map(({ value, label }) => ({ value, label })),
        ]}
        {...(page.locale ? { help: say('The preview writes them as the office does.') } : {})}
        onChange={(locale) => onSet({ locale: locale === '' ? undefined : locale })}
      />
      <CheckField
        label={say('In steps, a section a step')}
        checked={page.steps === true}
        onChange={(on) => onSet({ steps: on ? true : undefined })}
      />
      <TextControl
        key={`intro ${page.intro}`}
        label={say('Introduction')}
        text={page.intro}
        none={say('none')}
        multiline
        onSet={(intro) => onSet({ intro })}
      />
      {own(say('Words of the button'), 'send', say('Send'))}
      <TextControl
        key={`thanks ${page.thanks}`}
        label={say('Closing words')}
        text={page.thanks}
        multiline
        hint={say('The reference and what was answered stand below them.')}
        onSet={(thanks) => onSet({ thanks })}
      />
      <TextControl
        key={`on ${page.goesOnTo ?? ''}`}
        label={say('Or go on to another address')}
        text={page.goesOnTo ?? ''}
        none={say('stay on the page')}
        onSet={(text) => {
          if (text !== '' && !/^https?:\/\/[^\s/]+/i.test(text))
            throw new Error(say('Give an address that begins with https:// or http://.'));
          onSet({ goesOnTo: text === '' ? undefined : text });
        }}
      />
      {own(say('Before it opens'), 'before', say('This page is not open yet.'))}
      {own(say('After it has closed'), 'closed', say('This page is closed and takes no more answers.'))}
      {own(say('When it is full'), 'full', say('This page has all the answers that it takes.'))}
    </div>
  );
}

/** What happens to an answer afterwards: corrections by its receipt, and the confirmation by mail. */
export function AfterSettings({ definition, page, tables, onSet }: PageSettingsProps) {
  const { corrections, confirmation } = page;
  const addresses = fieldsOfPage(definition, tables).filter((one) => holdsAddress(one.field));
  const setConfirmation = (to: string): void =>
    onSet({
      confirmation:
        to === ''
          ? undefined
          : {
              subject: `${definition.label}, {reference}`,
              text: say('Thank you. Your answer has arrived under the reference {reference}.\n\n{values}'),
              ...confirmation,
              to,
            },
    });
  return (
    <div className={settingsCss.form}>
      <CheckField
        label={say('Respondents can come back by their receipt and correct the answer')}
        checked={corrections !== undefined}
        onChange={(on) => onSet({ corrections: on ? { until: null } : undefined })}
      />
      {corrections && (
        <MomentField
          label={say('Until')}
          day
          value={corrections.until}
          none={say('for good')}
          onSet={(until) => onSet({ corrections: { until } })}
        />
      )}
      <SelectField
        label={say('Confirm by mail to')}
        value={confirmation?.to ?? ''}
        options={[
          { value: '', label: say('nobody') },
          ...addresses.map(({ id, label }) => ({ value: id, label: say('the address in {label}', { label }) })),
        ]}
        {...(addresses.length === 0
          ? { help: say('Put a field of the type e-mail on the form to confirm answers.') }
          : {})}
        onChange={setConfirmation}
      />
      {confirmation && (
        <>
          <TextControl
            key={`subject ${confirmation.subject}`}
            label={say('Subject')}
            text={confirmation.subject}
            onSet={(subject) => {
              if (subject === '') throw new Error(say('Give the confirmation a subject.'));
              onSet({ confirmation: { ...confirmation, subject } });
            }}
          />
          <TextControl
            key={`text ${confirmation.text}`}
            label={say('Text')}
            text={confirmation.text}
            multiline
            onSet={(text) => {
              if (text === '') throw new Error(say('Write what the confirmation says.'));
              onSet({ confirmation: { ...confirmation, text } });
            }}
          />
          <p className={textCss.faded}>
            {Object.entries(CONFIRMATION_PLACES)
              .map(([place, words]) => say('{place} is {words}', { place, words: say(words) }))
              .join('; ')}
            .
          </p>
        </>
      )}
    </div>
  );
}
