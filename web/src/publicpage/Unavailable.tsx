import type { UnavailablePage } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { type SyntheticEvent, useState } from 'react';
import { Card, cardCss, FieldInput, RuledField } from '../parts/index.ts';
import publicPageCss from './publicPage.module.css';

interface UnavailableProps {
  readonly page: UnavailablePage;
  /** Tries a code that was typed. */
  onCode(code: string): Promise<void>;
}

/** A page that cannot be filled now, and why; where it opens with a code, the field for it. */
export function Unavailable({ page, onCode }: UnavailableProps) {
  const [code, setCode] = useState('');
  const [trying, setTrying] = useState(false);
  const asks = page.unavailable === 'code' || page.unavailable === 'wrongCode';
  const submit = (event: SyntheticEvent): void => {
    event.preventDefault();
    if (code.trim() === '' || trying) return;
    setTrying(true);
    void onCode(code.trim()).finally(() => setTrying(false));
  };
  return (
    <form noValidate onSubmit={submit}>
      <Card title={page.label}>
        <p className={publicPageCss.intro} role={page.unavailable === 'wrongCode' ? undefined : 'status'}>
          {page.unavailable === 'wrongCode'
            ? say('This page opens with a code. Type the code that you were given.')
            : page.words}
        </p>
        {asks && (
          <>
            <div className={cardCss.section}>
              <RuledField
                id="page-code"
                label={say('Code')}
                required
                readOnly={false}
                help=""
                problem={page.unavailable === 'wrongCode' ? page.words : undefined}
              >
                <FieldInput
                  id="page-code"
                  value={code}
                  autoFocus
                  autoComplete="off"
                  onChange={(event) => setCode(event.target.value)}
                />
              </RuledField>
            </div>
            <div className={cardCss.foot}>
              <Button type="submit" variant="contained" disabled={trying}>
                {say('Open the page')}
              </Button>
            </div>
          </>
        )}
      </Card>
    </form>
  );
}
