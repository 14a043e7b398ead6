import type { ImportView } from '@fiche/core/api';
import type { Reading } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { clsx } from 'clsx';
import { useState } from 'react';
import { useSearchParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { Card, CardSection, cardCss, ProgressBar, pageCss, Sentence, textCss } from '../parts/index.ts';
import { ChooseFile } from './ChooseFile.tsx';
import chooseFileCss from './chooseFile.module.css';
import { PlanSection } from './PlanSection.tsx';
import { ReadingSection } from './ReadingSection.tsx';
import type { Chosen } from './useImportWork.ts';
import { useLook } from './useLook.ts';

const NOTHING_SAID: Partial<Reading> = {};

/** Imports a file: what it is, where its columns go, what every row says, and then the rows. On one page, in this order. */
export function ImportPage() {
  const { cabinet, tables, may } = useOffice();
  const [search] = useSearchParams();
  const [chosen, setChosen] = useState<Chosen>();
  const [said, setSaid] = useState<Partial<Reading>>(NOTHING_SAID);
  const [into, setInto] = useState(
    search.get('into') ?? (may('build') ? '' : (cabinet.tables.find((one) => may('import', one.id))?.id ?? '')),
  );
  // A file is sent once, whatever is set about it afterwards.
  const [sent] = useState(() => new WeakMap<Blob, ImportView>());
  const { looked, wrong, share } = useLook(chosen?.file, said);
  const choose = (file: Blob, name: string): void => {
    setSaid(NOTHING_SAID);
    setChosen({ file, name, number: (chosen?.number ?? 0) + 1 });
  };
  if (!may('import')) return <p className={pageCss.empty}>{say('Your role does not allow importing files.')}</p>;
  return (
    <div className={clsx(pageCss.body, chooseFileCss.page)}>
      <Card
        title={say('Import')}
        mark={chosen && <span className={clsx(textCss.mono, textCss.faded)}>{chosen.name}</span>}
      >
        <ChooseFile onChoose={choose} />
        {wrong && (
          <p className={clsx(cardCss.section, textCss.problem)} role="alert">
            {wrong}
          </p>
        )}
        {share !== undefined && !looked && (
          <p className={cardCss.section} role="status">
            {say('Reading the file…')} <ProgressBar share={share} label={say('Reading the file')} />
          </p>
        )}
        {looked && chosen && (
          <>
            <ReadingSection looked={looked} onSay={(part) => setSaid({ ...said, ...part })} />
            <CardSection label={say('Where it goes')}>
              <Sentence
                parts={[
                  `${say('Import the rows into')} `,
                  {
                    key: 'into',
                    label: say('table'),
                    side: 'choices',
                    shown: into === '' ? say('a new table') : (tables.get(into)?.label ?? say('a new table')),
                    pick: {
                      kind: 'options',
                      options: [
                        ...(may('build') ? [{ value: '', label: say('a new table') }] : []),
                        ...cabinet.tables
                          .filter((one) => !one.archived && may('import', one.id))
                          .map((one) => ({ value: one.id, label: one.label })),
                      ],
                      current: into,
                    },
                    onSet: setInto,
                  },
                  '.',
                ]}
              />
            </CardSection>
            <PlanSection
              key={`${chosen.number}-${into}-${JSON.stringify(looked.reading)}`}
              chosen={chosen}
              looked={looked}
              into={into}
              sent={sent}
              onList={(sheet) => {
                setInto('');
                setSaid({ ...said, sheet });
              }}
            />
          </>
        )}
      </Card>
    </div>
  );
}
