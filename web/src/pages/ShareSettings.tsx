import { languageName, say } from '@fiche/core/languages';
import { pageLanguages } from '@fiche/core/pages';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { toDataURL, toString as toSvg } from 'qrcode';
import { useEffect, useMemo, useState } from 'react';
import { CheckField, SelectField, settingsCss, textCss, useNotify } from '../parts/index.ts';
import { fieldsOfPage } from './fieldsOfPage.ts';
import type { PageSettingsProps } from './pageSettingsProps.ts';
import pagesCss from './pages.module.css';

/** The address of the page with values filled in, to be copied, and as a QR code. */
export function ShareSettings({ definition, page, tables, onSet }: PageSettingsProps) {
  const [filled, setFilled] = useState<Readonly<Record<string, string>>>({});
  const fields = fieldsOfPage(definition, tables);
  const used = fields.filter((one) => filled[one.id] !== undefined);
  const languages = pageLanguages(page);
  const [language, setLanguage] = useState('');
  const named = languages.includes(language) ? language : '';
  const address = useMemo(() => addressWith(page.slug, filled, named), [page.slug, filled, named]);
  const locked = new Set(page.locked);
  const lock = (field: string, on: boolean): void => {
    const next = on ? [...locked, field] : [...locked].filter((one) => one !== field);
    onSet({ locked: next.length === 0 ? undefined : next });
  };
  return (
    <div className={settingsCss.form}>
      <SelectField
        label={say('Fill in a field by the address')}
        value=""
        options={[
          { value: '', label: say('choose a field') },
          ...fields.filter((one) => !used.includes(one)).map(({ id, label }) => ({ value: id, label })),
        ]}
        onChange={(id) => id !== '' && setFilled({ ...filled, [id]: '' })}
      />
      {used.map(({ id, label }) => (
        <div key={id} className={pagesCss.filled}>
          <TextField
            label={label}
            value={filled[id]}
            placeholder={say('as somebody would type it')}
            onChange={(event) => setFilled({ ...filled, [id]: event.target.value })}
          />
          <CheckField label={say('Locked')} checked={locked.has(id)} onChange={(on) => lock(id, on)} />
          <Button
            variant="text"
            aria-label={say('Do not fill in {label}', { label })}
            onClick={() => setFilled(Object.fromEntries(Object.entries(filled).filter(([one]) => one !== id)))}
          >
            {say('Remove')}
          </Button>
        </div>
      ))}
      {used.length > 0 && (
        <p className={textCss.faded}>
          {say(
            'What is filled in is checked like anything typed. Locked fields cannot be changed on the page; whoever changes the address itself can still fill in something else. Use personal links where that must not be.',
          )}
        </p>
      )}
      {languages.length > 1 && (
        <SelectField
          label={say('Whoever opens it reads it in')}
          value={named}
          options={[
            { value: '', label: say('the language of their browser') },
            ...languages.map((value) => ({ value, label: languageName(value) })),
          ]}
          onChange={setLanguage}
        />
      )}
      <CopyField label={say('Address to share')} text={address} />
      <QrCode address={address} name={page.slug} />
    </div>
  );
}

/** The address of a page with values of fields and perhaps a language; fields without a text are left out. */
const addressWith = (slug: string, filled: Readonly<Record<string, string>>, language: string): string => {
  const asked = new URLSearchParams(Object.entries(filled).filter(([, text]) => text !== ''));
  if (language !== '') asked.set('lang', language);
  return `${window.location.origin}/p/${slug}${asked.size > 0 ? `?${asked}` : ''}`;
};

/** A text that is not changed here, with a way to copy it. */
export function CopyField({ label, text, multiline }: { label: string; text: string; multiline?: boolean }) {
  const notify = useNotify();
  return (
    <div className={pagesCss.copied}>
      <TextField
        label={label}
        value={text}
        multiline={multiline}
        slotProps={{ input: { readOnly: true } }}
        onFocus={(event) => event.target.select()}
      />
      <Button
        aria-label={say('Copy: {label}', { label })}
        onClick={() =>
          navigator.clipboard?.writeText(text).then(
            () => notify(say('Copied.')),
            () => notify(say('This browser does not let pages copy. Mark the text and press Ctrl+C.')),
          )
        }
      >
        {say('Copy')}
      </Button>
    </div>
  );
}

const SIZE = 1_024;

/** The QR code of an address, with its pictures to take away. */
function QrCode({ address, name }: { readonly address: string; readonly name: string }) {
  const [pictures, setPictures] = useState<{ readonly svg: string; readonly png: string }>();
  useEffect(() => {
    let over = false;
    const how = { margin: 2, errorCorrectionLevel: 'M' } as const;
    void Promise.all([toSvg(address, { ...how, type: 'svg' }), toDataURL(address, { ...how, width: SIZE })]).then(
      ([svg, png]) => {
        if (!over) setPictures({ svg: `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`, png });
      },
      // An address too long for a code has none; it can still be copied.
      () => !over && setPictures(undefined),
    );
    return () => {
      over = true;
    };
  }, [address]);
  if (!pictures)
    return <p className={textCss.faded}>{say('This address is too long for a QR code. Fill in fewer fields.')}</p>;
  return (
    <div className={pagesCss.qr}>
      <img src={pictures.svg} alt={say('QR code of {address}', { address })} width={132} height={132} />
      <div className={settingsCss.acts}>
        <Button component="a" href={pictures.svg} download={`${name}.svg`}>
          {say('QR code as SVG')}
        </Button>
        <Button component="a" href={pictures.png} download={`${name}.png`}>
          {say('QR code as PNG')}
        </Button>
      </div>
    </div>
  );
}
