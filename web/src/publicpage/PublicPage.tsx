import type { EntryAnswer, OpenPage, UnavailablePage } from '@fiche/core/api';
import type { Answered } from '@fiche/core/entry';
import { loadExpressions } from '@fiche/core/expressions';
import { loadPatterns } from '@fiche/core/fields';
import { prepareForm } from '@fiche/core/forms';
import { setOffice } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import { type RefObject, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { isByAddress, keepPageAccess, keepPageLanguage, pageLanguage, send } from '../client/index.ts';
import { codeHeader, type PageAddress } from './address.ts';
import { LanguageChoice } from './LanguageChoice.tsx';
import { nameLanguage, speak } from './language.ts';
import { PageFrame } from './PageFrame.tsx';
import publicPageCss from './publicPage.module.css';
import { type Carried, Questions } from './Questions.tsx';
import { Sent } from './Sent.tsx';
import { Unavailable } from './Unavailable.tsx';

type Page = OpenPage | UnavailablePage;

/** What follows the address of a page’s definition: the server names the same one where it lets browsers ask for it early. */
function questionOf(): string {
  const parts = [
    ...(isByAddress() ? ['by=address'] : []),
    ...(pageLanguage() === '' ? [] : [`lang=${pageLanguage()}`]),
  ];
  return parts.length === 0 ? '' : `?${parts.join('&')}`;
}

/** A page that is ready to be filled: it speaks its language and writes as the office does, and the engines of patterns and of formulas are loaded for forms that have some. */
async function withEngines(page: Page): Promise<Page> {
  setOffice(page.office);
  await speak(page);
  // Whatever is asked from now on is answered in the language that is shown.
  keepPageLanguage(page.language);
  if ('unavailable' in page) return page;
  const text = JSON.stringify([page.tables, page.definition]);
  const calculates = /"calculation":"|"kind":"(?:expression|calculation)"/.test(text);
  if (calculates) await loadExpressions();
  const has = /"pattern":|\bmatches\(|\bpattern\(/.test(text);
  if (has) await loadPatterns();
  return page;
}

/** A published form that needs no account: one column, the card alone. */
export function PublicPage({ address }: { readonly address: PageAddress }) {
  const [page, setPage] = useState<Page>();
  const [trouble, setTrouble] = useState('');
  const base = `/api/public/${encodeURIComponent(address.slug)}`;
  const carried = useRef<Carried>({});
  const open = useCallback(
    (): Promise<void> =>
      send<Page>('GET', base + questionOf())
        .then(withEngines)
        .then(setPage, (error: Error) => setTrouble(error.message)),
    [base],
  );
  useEffect(() => void open(), [open]);
  useEffect(() => {
    if (page) document.title = `${page.label} · ${page.cabinet}`;
  }, [page]);
  if (trouble !== '')
    return (
      <main data-shown="public" className={publicPageCss.public}>
        <p className={publicPageCss.intro} role="alert">
          {trouble}
        </p>
      </main>
    );
  if (!page) return null;
  return (
    <PageFrame
      page={page}
      beside={
        <LanguageChoice
          language={page.language}
          languages={page.languages}
          onChoose={(language) => {
            carried.current.answers = carried.current.read?.();
            nameLanguage(language);
            keepPageLanguage(language);
            void open();
          }}
        />
      }
    >
      {'unavailable' in page ? (
        <Unavailable
          page={page}
          onCode={(code) => {
            keepPageAccess({ ...address.access, ...codeHeader(code) });
            return open();
          }}
        />
      ) : (
        <Answering page={page} base={base} address={address} carried={carried} onAgain={open} />
      )}
    </PageFrame>
  );
}

interface AnsweringProps {
  readonly page: OpenPage;
  readonly base: string;
  readonly address: PageAddress;
  /** What was entered in another language of the page. */
  readonly carried: RefObject<Carried>;
  /** Opens the page anew, for one more answer. */
  onAgain(): Promise<void>;
}

function Answering({ page, base, address, carried, onAgain }: AnsweringProps) {
  const [round, setRound] = useState(0);
  const [sent, setSent] = useState<{ readonly answer: EntryAnswer; readonly answered: readonly Answered[] }>();
  const form = useMemo(
    () => prepareForm(page.definition, new Map(page.tables.map((table: TableDefinition) => [table.id, table]))),
    [page],
  );
  if (sent)
    return (
      <Sent
        page={page}
        {...sent}
        onAgain={() =>
          void onAgain().then(() => {
            setSent(undefined);
            setRound(round + 1);
          })
        }
      />
    );
  return (
    <Questions
      key={`${round} ${page.language}`}
      page={page}
      carried={carried}
      form={form}
      base={base}
      address={address}
      onSent={(answer, answered) => {
        const onward = page.definition.page?.goesOnTo;
        if (onward && !answer.waits && /^https?:\/\//i.test(onward)) window.location.assign(onward);
        else setSent({ answer, answered });
      }}
    />
  );
}
