import type { DefinedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { PublicPage } from '@fiche/core/pages';
import Button from '@mui/material/Button';
import { type ReactNode, useState } from 'react';
import { Link, useParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { type Draft, DraftBar, DraftState, Findings, PublishButton, TwoDrafts, useDraft } from '../editor/index.ts';
import { pageCss, textCss, Waiting } from '../parts/index.ts';
import { EmbedSettings } from './EmbedSettings.tsx';
import { LanguageSettings } from './LanguageSettings.tsx';
import { newPage } from './newPage.ts';
import { OpeningSettings } from './OpeningSettings.tsx';
import { PagePreview } from './PagePreview.tsx';
import { PersonalLinks } from './PersonalLinks.tsx';
import { PrivacySettings } from './PrivacySettings.tsx';
import pagesCss from './pages.module.css';
import { ShareSettings } from './ShareSettings.tsx';
import { Translations } from './Translations.tsx';
import { AfterSettings, WordSettings } from './WordSettings.tsx';

/** The settings of a form’s public page, beside the page itself. */
export function PageSettings() {
  const { cabinet, tables, may } = useOffice();
  const { form: id = '' } = useParams();
  const { draft, error } = useDraft(id);
  if (!may('build'))
    return (
      <p className={pageCss.empty}>
        {say('Public pages are for builders. Ask an administrator if you need to set one up.')}
      </p>
    );
  if (error)
    return (
      <p className={pageCss.empty} role="alert">
        {error.message}
      </p>
    );
  if (!draft || !tables.has(draft.definition.table)) return <Waiting what={say('Opening the public page…')} />;
  const { definition } = draft;
  const { page } = definition;
  return (
    <div className={pagesCss.page}>
      <DraftBar
        end={
          <>
            <Button variant="text" component={Link} to={`/${cabinet.id}/forms/${id}/answers`}>
              {say('Answers')}
            </Button>
            <Button variant="text" component={Link} to={`/${cabinet.id}/forms/${id}/edit`}>
              {say('Edit form')}
            </Button>
            <PublishButton draft={draft} />
          </>
        }
      >
        <h1 className={pagesCss.title}>{say('Public page of {label}', { label: definition.label })}</h1>
        <DraftState draft={draft} />
        {draft.trouble && (
          <span className={textCss.problem} role="alert">
            {draft.trouble}
          </span>
        )}
      </DraftBar>
      {page ? (
        <SetPage draft={draft} page={page} form={id} />
      ) : (
        <NoPage definition={definition} onChange={draft.change} />
      )}
    </div>
  );
}

interface SetPageProps {
  readonly draft: Draft;
  readonly page: PublicPage;
  readonly form: string;
}

/** The settings of a page that there is, and beside them how it looks or its texts in another language. */
function SetPage({ draft, page, form }: SetPageProps) {
  const { tables } = useOffice();
  const [texts, setTexts] = useState<string>();
  const { definition } = draft;
  const set = (change: { readonly [K in keyof PublicPage]?: PublicPage[K] | undefined }): void =>
    draft.change({ ...definition, page: withoutBlanks({ ...page, ...change }) });
  const props = { definition, page, tables, onSet: set };
  return (
    <>
      <section className={pagesCss.settings} aria-label={say('Settings of the public page')}>
        {draft.theirs && <TwoDrafts draft={draft} theirs={draft.theirs} />}
        <Findings findings={draft.view.findings.filter((one) => one.path === 'page' || one.rule === 'disclosure')} />
        <Group title={say('Words and style')}>
          <WordSettings {...props} />
        </Group>
        <Group title={say('Languages')}>
          <LanguageSettings {...props} form={form} open={texts} onOpen={setTexts} />
        </Group>
        <Group title={say('Who, when, how many')}>
          <OpeningSettings {...props} />
        </Group>
        {page.who?.kind === 'link' && (
          <Group title={say('Personal links')} about={say('They are made for the published page.')}>
            <PersonalLinks id={form} page={page} definition={definition} liveVersion={draft.view.liveVersion} />
          </Group>
        )}
        <Group title={say('Share')} about={say('The address, a QR code, and fields that the address fills in.')}>
          <ShareSettings {...props} />
        </Group>
        <Group
          title={say('Within another site')}
          about={say('A frame that grows with the page; no cookies are needed in it.')}
        >
          <EmbedSettings {...props} />
        </Group>
        <Group title={say('After sending')}>
          <AfterSettings {...props} />
        </Group>
        <Group title={say('Privacy')}>
          <PrivacySettings {...props} />
        </Group>
      </section>
      {texts !== undefined && page.translations?.[texts] ? (
        <section className={pagesCss.preview} aria-label={say('Texts')}>
          <Translations {...props} form={form} language={texts} onClose={() => setTexts(undefined)} />
        </section>
      ) : (
        <section className={pagesCss.preview} aria-label={say('Preview')}>
          <PagePreview id={form} definition={definition} tables={tables} />
        </section>
      )}
    </>
  );
}

/** Settings that are the usual again are left out of the definition. */
const withoutBlanks = (page: { readonly [K in keyof PublicPage]?: PublicPage[K] | undefined }): PublicPage =>
  Object.fromEntries(Object.entries(page).filter(([, value]) => value !== undefined)) as PublicPage;

function NoPage({ definition, onChange }: { definition: DefinedForm; onChange(next: DefinedForm): void }) {
  return (
    <p className={pageCss.empty}>
      {say('{label} has no public page. With one, it is filled by link or QR code, without an account.', {
        label: definition.label,
      })}{' '}
      <Button variant="contained" onClick={() => onChange({ ...definition, page: newPage(definition.label) })}>
        {say('Make a public page')}
      </Button>
    </p>
  );
}

function Group({ title, about, children }: { title: string; about?: string; children: ReactNode }) {
  return (
    <section className={pagesCss.group} aria-label={title}>
      <h2>{title}</h2>
      {about && <p className={pagesCss.about}>{about}</p>}
      {children}
    </section>
  );
}
