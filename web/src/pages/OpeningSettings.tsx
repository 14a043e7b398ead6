import { linksOne } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { PageCode, PageWho } from '@fiche/core/pages';
import Button from '@mui/material/Button';
import { SelectField, settingsCss, textCss } from '../parts/index.ts';
import { TextControl } from '../tables/index.ts';
import { fieldsOfPage } from './fieldsOfPage.ts';
import { MomentField } from './MomentField.tsx';
import { NumberField } from './NumberField.tsx';
import type { PageSettingsProps } from './pageSettingsProps.ts';
import pagesCss from './pages.module.css';

/** Who may open the page, when, and how often it is answered. */
export function OpeningSettings({ definition, page, tables, onSet }: PageSettingsProps) {
  const links = fieldsOfPage(definition, tables).filter((one) => linksOne(one.field));
  const { who, when = { opens: null, closes: null }, atMost, atMostFor } = page;
  const kinds = [
    { value: 'everybody', label: say('everybody who has the address') },
    { value: 'code', label: say('whoever knows a code') },
    { value: 'link', label: say('whoever has a personal link'), disabled: links.length === 0 },
  ];
  const choose = (kind: string): void => {
    if (kind === 'code') onSet({ who: { kind, codes: [{ code: newCode(), label: say('Code 1') }] } });
    else if (kind === 'link' && links[0]) onSet({ who: { kind, fills: links[0].id } });
    else onSet({ who: undefined });
  };
  const setWhen = (change: Partial<typeof when>): void => {
    const next = { ...when, ...change };
    onSet({ when: next.opens === null && next.closes === null ? undefined : next });
  };
  const options = links.map(({ id, label }) => ({ value: id, label }));
  return (
    <div className={settingsCss.form}>
      <SelectField
        label={say('Who may open it')}
        value={who?.kind ?? 'everybody'}
        options={kinds}
        {...(links.length === 0
          ? { help: say('Personal links need a field on the form that links to one record.') }
          : {})}
        onChange={choose}
      />
      {who?.kind === 'code' && <Codes who={who} onSet={(next) => onSet({ who: next })} />}
      {who?.kind === 'link' && (
        <SelectField
          label={say('The link fills')}
          value={who.fills}
          options={options}
          help={say(
            'Each link is made for one record of the table that this field links to. It is filled in and cannot be changed.',
          )}
          onChange={(fills) => onSet({ who: { kind: 'link', fills } })}
        />
      )}
      <div className={pagesCss.pair}>
        <MomentField
          label={say('Opens')}
          value={when.opens}
          none={say('open already')}
          onSet={(opens) => setWhen({ opens })}
        />
        <MomentField
          label={say('Closes')}
          value={when.closes}
          none={say('stays open')}
          onSet={(closes) => setWhen({ closes })}
        />
      </div>
      <NumberField
        label={say('At most so many answers')}
        value={atMost}
        none={say('any number')}
        onSet={(most) => onSet({ atMost: most })}
      />
      {options.length > 0 && (
        <div className={pagesCss.pair}>
          <SelectField
            label={say('At most for each')}
            value={atMostFor?.field ?? ''}
            options={[{ value: '', label: say('no limit') }, ...options]}
            onChange={(field) => onSet({ atMostFor: field === '' ? undefined : { field, most: atMostFor?.most ?? 1 } })}
          />
          {atMostFor && (
            <NumberField
              label={say('Answers for each')}
              value={atMostFor.most}
              none="1"
              onSet={(most) => onSet({ atMostFor: { ...atMostFor, most: most ?? 1 } })}
            />
          )}
        </div>
      )}
    </div>
  );
}

/** Letters and digits that are not mistaken for one another. */
const SIGNS = 'abcdefghjkmnpqrstuvwxyz23456789';
const newCode = (): string =>
  [...crypto.getRandomValues(new Uint8Array(8))].map((n) => SIGNS[n % SIGNS.length]).join('');

function Codes({ who, onSet }: { readonly who: Extract<PageWho, { kind: 'code' }>; onSet(who: PageWho): void }) {
  const { codes } = who;
  const change = (at: number, next: Partial<PageCode>): void =>
    onSet({ ...who, codes: codes.map((one, n) => (n === at ? { ...one, ...next } : one)) });
  return (
    <section aria-label={say('Codes')} className={pagesCss.codes}>
      {codes.map((one, at) => (
        <div key={`${one.code} ${one.label}`} className={pagesCss.code}>
          <TextControl
            label={say('Code {at}', { at: at + 1 })}
            text={one.code}
            onSet={(code) => {
              if (!/^[\p{L}\p{N}-]{4,40}$/u.test(code))
                throw new Error(say('A code has 4 to 40 letters, digits and hyphens.'));
              if (codes.some((other, n) => n !== at && other.code.toLowerCase() === code.toLowerCase()))
                throw new Error(say('This code is there already.'));
              change(at, { code });
            }}
          />
          <TextControl
            label={say('For whom, code {at}', { at: at + 1 })}
            text={one.label}
            onSet={(label) => {
              if (label === '') throw new Error(say('Say for whom it is: answers are stamped with it.'));
              change(at, { label });
            }}
          />
          <Button
            variant="text"
            aria-label={say('Remove code {at}', { at: at + 1 })}
            disabled={codes.length === 1}
            onClick={() => onSet({ ...who, codes: codes.filter((_one, n) => n !== at) })}
          >
            {say('Remove')}
          </Button>
        </div>
      ))}
      <Button
        onClick={() =>
          onSet({
            ...who,
            codes: [...codes, { code: newCode(), label: say('Code {count}', { count: codes.length + 1 }) }],
          })
        }
      >
        {say('Add a code')}
      </Button>
      <p className={textCss.faded}>
        {say('Answers are stamped with the code that opened the page. Capitals do not matter.')}
      </p>
    </section>
  );
}
