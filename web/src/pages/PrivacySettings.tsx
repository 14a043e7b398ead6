import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import { MOST_DAYS_KEPT } from '@fiche/core/pages';
import { pageDisclosures } from '@fiche/core/proof';
import Button from '@mui/material/Button';
import { CheckField, settingsCss } from '../parts/index.ts';
import { TextControl } from '../tables/index.ts';
import type { PageSettingsProps } from './pageSettingsProps.ts';

/** What respondents agree to, and what strangers can read. */
export function PrivacySettings(props: PageSettingsProps) {
  const { page, onSet } = props;
  return (
    <div className={settingsCss.form}>
      <TextControl
        key={`consent ${page.consent ?? ''}`}
        label={say('Consent')}
        text={page.consent ?? ''}
        none={say('not asked for')}
        multiline
        hint={say('Whoever sends an answer agrees to this text first. The text as it was is kept with the answer.')}
        onSet={(consent) => onSet({ consent: consent === '' ? undefined : consent })}
      />
      <TextControl
        key={`erase ${page.eraseAfterDays ?? ''}`}
        label={say('Erase answers after so many days')}
        text={page.eraseAfterDays === undefined ? '' : String(page.eraseAfterDays)}
        none={say('never')}
        hint={say(
          'With the records that they added, their files and lines. The ledger goes on saying that there was something.',
        )}
        onSet={(text) => {
          const days = Number(text);
          if (text !== '' && !(Number.isInteger(days) && days >= 1 && days <= MOST_DAYS_KEPT))
            throw new Error(
              say('Give a number of days from 1 to {mostDaysKept}, or leave it blank.', {
                mostDaysKept: formatCount(MOST_DAYS_KEPT),
              }),
            );
          onSet({ eraseAfterDays: text === '' ? undefined : days });
        }}
      />
      <Disclosures {...props} />
    </div>
  );
}

/** What strangers can read through the public page: each is confirmed by the builder before it is published. */
export function Disclosures({ definition, page, tables, onSet }: PageSettingsProps) {
  const all = pageDisclosures(definition, tables);
  const confirmed = new Set(page.disclosed);
  const open = all.filter((one) => !confirmed.has(one.key));
  if (all.length === 0) return null;
  return (
    <section aria-label={say('What strangers can read')}>
      <h4>{say('What strangers can read')}</h4>
      {all.map((one) => (
        <CheckField
          key={one.key}
          label={one.message}
          checked={confirmed.has(one.key)}
          onChange={(on) =>
            onSet({ disclosed: on ? [...confirmed, one.key] : [...confirmed].filter((key) => key !== one.key) })
          }
        />
      ))}
      {open.length > 0 && (
        <Button onClick={() => onSet({ disclosed: all.map((one) => one.key) })}>
          {sayCount(open.length, 'Confirm it', 'Confirm all {count}')}
        </Button>
      )}
    </section>
  );
}
