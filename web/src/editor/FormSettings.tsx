import { type DefinedForm, OPENING_WORDS, OPENINGS, type PreparedForm } from '@fiche/core/forms';
import { pageDisclosures } from '@fiche/core/proof';
import type { Tables } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { CheckField, SelectField, settingsCss } from '../parts/index.ts';
import { TableRules, TextControl } from '../tables/index.ts';
import { useViews } from '../views/index.ts';
import { NextSteps } from './NextSteps.tsx';
import panelCss from './panel.module.css';
import { SettingsGroup } from './SettingsGroup.tsx';

const MAY = [
  ['add', 'Add records'],
  ['change', 'Change records'],
  ['archive', 'Archive records'],
] as const;

interface FormSettingsProps {
  readonly definition: DefinedForm;
  readonly prepared: PreparedForm;
  onChange(definition: DefinedForm): void;
}

/** The settings of the form as a whole: name, what may be done, what it opens on, its public page, the rules of its table. */
export function FormSettings({ definition, prepared, onChange }: FormSettingsProps) {
  return (
    <>
      <header className={panelCss.head}>
        <h2>Form settings</h2>
      </header>
      <div className={settingsCss.form}>
        <TextControl
          key={definition.label}
          label="Name"
          text={definition.label}
          onSet={(label) => {
            if (label === '') throw new Error('A form needs a name.');
            onChange({ ...definition, label });
          }}
        />
        <div>
          {MAY.map(([key, label]) => (
            <CheckField
              key={key}
              label={label}
              checked={definition.may[key]}
              onChange={(on) => onChange({ ...definition, may: { ...definition.may, [key]: on } })}
            />
          ))}
        </div>
        <SelectField
          label="Opens on"
          value={definition.opensOn}
          options={OPENINGS.map((one) => ({ value: one, label: OPENING_WORDS[one] }))}
          onChange={(value) => onChange({ ...definition, opensOn: value as DefinedForm['opensOn'] })}
        />
        <RecordsShown definition={definition} onChange={onChange} />
        <CheckField
          label="Show who created and changed a record"
          checked={definition.showStamp}
          onChange={(showStamp) => onChange({ ...definition, showStamp })}
        />
      </div>
      <NextSteps definition={definition} onChange={onChange} />
      <PublicPageSettings definition={definition} tables={prepared.tables} onChange={onChange} />
      <SettingsGroup title="Rules of its table" letter="V" about="They guard every path into the table, this form too.">
        <TableRules table={prepared.table} />
      </SettingsGroup>
    </>
  );
}

/** Which records it shows, and in which order: those of a shared view, or all. */
function RecordsShown({ definition, onChange }: Pick<FormSettingsProps, 'definition' | 'onChange'>) {
  const { views } = useViews(definition.table);
  const shared = views?.filter((one) => one.shared) ?? [];
  const view = definition.view ?? null;
  const gone = view !== null && views !== undefined && !shared.some((one) => one.id === view);
  if (shared.length === 0 && view === null) return null;
  return (
    <SelectField
      label="Records and their order"
      value={view === null ? '' : String(view)}
      options={[
        { value: '', label: 'all, in order of entry' },
        ...shared.map((one) => ({ value: String(one.id), label: `those of the view ${one.label}` })),
        ...(gone ? [{ value: String(view), label: 'a view that is not there any more' }] : []),
      ]}
      {...(gone ? { problem: 'Choose another view, or all records.' } : {})}
      help="Record 3 of 17, the rows to fill, and the list to choose from follow it."
      onChange={(value) => onChange({ ...definition, view: value === '' ? null : Number(value) })}
    />
  );
}

function PublicPageSettings({
  definition,
  tables,
  onChange,
}: Omit<FormSettingsProps, 'prepared'> & { readonly tables: Tables }) {
  const { page } = definition;
  const set = (change: Partial<NonNullable<DefinedForm['page']>>): void => {
    if (page) onChange({ ...definition, page: { ...page, ...change } });
  };
  return (
    <SettingsGroup title="Public page" about="A page that anybody can fill, without an account.">
      <div className={settingsCss.form}>
        <CheckField
          label="Open to everybody"
          checked={page !== null}
          onChange={(on) =>
            onChange({
              ...definition,
              page: on
                ? {
                    slug: slugOf(definition.label),
                    intro: '',
                    thanks: 'Thank you. Your answers have arrived.',
                    disclosed: [],
                  }
                : null,
            })
          }
        />
        {page && (
          <>
            <TextControl
              key={page.slug}
              label="Address"
              text={page.slug}
              hint={`Opens at /p/${page.slug}`}
              onSet={(slug) => set({ slug: slug.toLowerCase() })}
            />
            <TextControl
              key={`intro ${page.intro}`}
              label="Introduction"
              text={page.intro}
              none="none"
              multiline
              onSet={(intro) => set({ intro })}
            />
            <TextControl
              key={`thanks ${page.thanks}`}
              label="Closing words"
              text={page.thanks}
              multiline
              onSet={(thanks) => set({ thanks })}
            />
          </>
        )}
      </div>
      {page && <Disclosures definition={definition} tables={tables} onSet={(disclosed) => set({ disclosed })} />}
    </SettingsGroup>
  );
}

/** What strangers can read through the public page: each is confirmed by the builder before it is published. */
function Disclosures({
  definition,
  tables,
  onSet,
}: {
  definition: DefinedForm;
  tables: Tables;
  onSet(disclosed: string[]): void;
}) {
  const all = pageDisclosures(definition, tables);
  const confirmed = new Set(definition.page?.disclosed);
  const open = all.filter((one) => !confirmed.has(one.key));
  if (all.length === 0) return null;
  return (
    <section aria-label="What strangers can read">
      <h4>What strangers can read</h4>
      {all.map((one) => (
        <CheckField
          key={one.key}
          label={one.message}
          checked={confirmed.has(one.key)}
          onChange={(on) => onSet(on ? [...confirmed, one.key] : [...confirmed].filter((key) => key !== one.key))}
        />
      ))}
      {open.length > 0 && (
        <Button onClick={() => onSet(all.map((one) => one.key))}>
          {open.length === 1 ? 'Confirm it' : `Confirm all ${open.length}`}
        </Button>
      )}
    </section>
  );
}

/** The address that a form’s name proposes. */
const slugOf = (label: string): string =>
  label
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 50) || 'form';
