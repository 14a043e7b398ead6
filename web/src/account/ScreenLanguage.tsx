import type { OfficeLanguage } from '@fiche/core/api';
import { languageName, say } from '@fiche/core/languages';
import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { send } from '../client/index.ts';
import { chooseOfficeLanguage, OFFICE_LANGUAGE } from '../languages/index.ts';
import { Card, cardCss, SelectField, settingsCss } from '../parts/index.ts';

/** In which language the screens are in this browser; nothing where the office has English only. */
export function ScreenLanguage() {
  const { data } = useQuery({
    queryKey: ['languages'],
    queryFn: () => send<OfficeLanguage>('GET', OFFICE_LANGUAGE),
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (!data || data.languages.length < 2) return null;
  return (
    <Card title={say('Language')}>
      <div className={clsx(cardCss.section, settingsCss.form)}>
        <SelectField
          label={say('Language of the screens')}
          value={data.language}
          options={data.languages.map((one) => ({ value: one, label: languageName(one, one) }))}
          help={say('In this browser. Numbers and dates are written as the office says.')}
          onChange={(language) => {
            chooseOfficeLanguage(language);
            window.location.reload();
          }}
        />
      </div>
    </Card>
  );
}
