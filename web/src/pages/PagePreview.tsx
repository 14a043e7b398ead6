import type { EntryAnswer, OpenPage } from '@fiche/core/api';
import type { Answered } from '@fiche/core/entry';
import { choiceWords, type DefinedForm, prepareForm, withTexts } from '@fiche/core/forms';
import { say, textIn } from '@fiche/core/languages';
import { currentOffice } from '@fiche/core/office';
import { pageLanguages } from '@fiche/core/pages';
import type { Tables } from '@fiche/core/tables';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { clsx } from 'clsx';
import { useEffect, useMemo, useState } from 'react';
import { useOffice } from '../client/index.ts';
import { sayIn, sayInOwn } from '../languages/index.ts';
import { textCss } from '../parts/index.ts';
import { LanguageChoice, PageFrame, Questions, Sent } from '../publicpage/index.ts';
import pagesCss from './pages.module.css';

interface PagePreviewProps {
  readonly id: string;
  readonly definition: DefinedForm;
  readonly tables: Tables;
}

/** The page as it will be, on real data, at the width of a phone or of a desk. Sending tries it and writes nothing. */
export function PagePreview({ id, definition, tables }: PagePreviewProps) {
  const { cabinet } = useOffice();
  const [phone, setPhone] = useState(true);
  const [sent, setSent] = useState<readonly Answered[]>();
  const { language, choose, languages, said } = useReading(definition, tables);
  const form = useMemo(() => prepareForm(said.definition, said.tables), [said]);
  const page = useMemo(
    (): OpenPage => ({
      label: said.definition.label,
      cabinet: cabinet.label,
      office: currentOffice(),
      style: said.definition.page?.style ?? null,
      language,
      languages: [...languages],
      choiceWords: {},
      id,
      version: null,
      begun: null,
      definition: said.definition,
      tables: [],
      workBits: 0,
    }),
    [said, language, languages, cabinet.label, id],
  );
  const address = { slug: `preview ${id}`, access: {}, receipt: false, texts: {} };
  const answer: EntryAnswer = {
    record: null,
    reference: say('given when it is sent'),
    ...(definition.page?.corrections ? { receipt: 'example' } : {}),
  };
  return (
    <>
      <div className={pagesCss.previewLine}>
        <ToggleButtonGroup
          exclusive
          value={phone ? 'phone' : 'desk'}
          aria-label={say('Width of the preview')}
          onChange={(_event, next: string | null) => next && setPhone(next === 'phone')}
        >
          <ToggleButton value="phone">{say('Phone')}</ToggleButton>
          <ToggleButton value="desk">{say('Desk')}</ToggleButton>
        </ToggleButtonGroup>
        <span className={textCss.faded}>{say('A preview: sending here tries the answer and writes nothing.')}</span>
      </div>
      <div className={clsx(pagesCss.screen, phone && pagesCss.phone)}>
        <PageFrame
          page={page}
          within
          beside={<LanguageChoice language={language} languages={languages} onChoose={choose} />}
        >
          {sent ? (
            <Sent page={page} answer={answer} answered={sent} onAgain={() => setSent(undefined)} />
          ) : (
            <Questions
              key={`${language} ${JSON.stringify(definition)}`}
              page={page}
              form={form}
              base={`/api/forms/${id}/draft`}
              address={address}
              preview
              onSent={(_answer, answered) => setSent(answered)}
            />
          )}
        </PageFrame>
      </div>
    </>
  );
}

/** The page in one of its languages: its texts, and everything that is said while it is previewed. */
function useReading(definition: DefinedForm, tables: Tables) {
  const { page } = definition;
  const languages = useMemo(() => (page ? pageLanguages(page) : ['en']), [page]);
  const [chosen, setChosen] = useState<string>();
  const language = chosen !== undefined && languages.includes(chosen) ? chosen : (languages[0] ?? 'en');
  // What the texts are said in, once the catalogue of the language is there.
  const [speaks, setSpeaks] = useState('en');
  useEffect(() => {
    let over = false;
    void sayIn(language, choiceWords({ definition, tables }, language)).then(() => !over && setSpeaks(language));
    return () => {
      over = true;
    };
  }, [definition, tables, language]);
  useEffect(() => sayInOwn, []);
  const said = useMemo(() => {
    const texts = definition.page?.translations?.[speaks];
    return texts ? withTexts({ definition, tables }, (text) => textIn(texts, text)) : { definition, tables };
  }, [definition, tables, speaks]);
  return { language: speaks, choose: setChosen, languages, said };
}
