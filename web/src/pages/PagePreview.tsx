import type { EntryAnswer, OpenPage } from '@fiche/core/api';
import type { Answered } from '@fiche/core/entry';
import { type DefinedForm, prepareForm } from '@fiche/core/forms';
import { currentOffice } from '@fiche/core/office';
import type { Tables } from '@fiche/core/tables';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { clsx } from 'clsx';
import { useMemo, useState } from 'react';
import { useOffice } from '../client/index.ts';
import { textCss } from '../parts/index.ts';
import { PageFrame, Questions, Sent } from '../publicpage/index.ts';
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
  const form = useMemo(() => prepareForm(definition, tables), [definition, tables]);
  const page = useMemo(
    (): OpenPage => ({
      label: definition.label,
      cabinet: cabinet.label,
      office: currentOffice(),
      style: definition.page?.style ?? null,
      language: definition.page?.language ?? 'en',
      languages: [],
      choiceWords: {},
      id,
      version: null,
      begun: null,
      definition,
      tables: [],
      workBits: 0,
    }),
    [definition, cabinet.label, id],
  );
  const address = { slug: `preview ${id}`, access: {}, receipt: false, texts: {} };
  const answer: EntryAnswer = {
    record: null,
    reference: 'given when it is sent',
    ...(definition.page?.corrections ? { receipt: 'example' } : {}),
  };
  return (
    <>
      <div className={pagesCss.previewLine}>
        <ToggleButtonGroup
          exclusive
          value={phone ? 'phone' : 'desk'}
          aria-label="Width of the preview"
          onChange={(_event, next: string | null) => next && setPhone(next === 'phone')}
        >
          <ToggleButton value="phone">Phone</ToggleButton>
          <ToggleButton value="desk">Desk</ToggleButton>
        </ToggleButtonGroup>
        <span className={textCss.faded}>A preview: sending here tries the answer and writes nothing.</span>
      </div>
      <div className={clsx(pagesCss.screen, phone && pagesCss.phone)}>
        <PageFrame page={page} within>
          {sent ? (
            <Sent page={page} answer={answer} answered={sent} onAgain={() => setSent(undefined)} />
          ) : (
            <Questions
              key={JSON.stringify(definition)}
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
