import { type DefinedForm, OPENING_WORDS, OPENINGS, type PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { Link, useParams } from 'react-router-dom';
import { CheckField, SelectField, settingsCss } from '../parts/index.ts';
import { TableRules, TextControl } from '../tables/index.ts';
import { WhereUsed } from '../uses/index.ts';
import { useViews } from '../views/index.ts';
import { DestinationSettings } from './DestinationSettings.tsx';
import { NextSteps } from './NextSteps.tsx';
import panelCss from './panel.module.css';
import { SettingsGroup } from './SettingsGroup.tsx';

const MAY = [
  ['add', say('Add records')],
  ['change', say('Change records')],
  ['archive', say('Archive records')],
] as const;

interface FormSettingsProps {
  readonly definition: DefinedForm;
  readonly prepared: PreparedForm;
  onChange(definition: DefinedForm): void;
}

/** The settings of the form as a whole: name, what may be done, what it opens on, its public page, the rules of its table. */
export function FormSettings({ definition, prepared, onChange }: FormSettingsProps) {
  const { form } = useParams();
  return (
    <>
      <header className={panelCss.head}>
        <h2>{say('Form settings')}</h2>
      </header>
      <div className={settingsCss.form}>
        <TextControl
          key={definition.label}
          label={say('Name')}
          text={definition.label}
          onSet={(label) => {
            if (label === '') throw new Error(say('A form needs a name.'));
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
          label={say('Opens on')}
          value={definition.opensOn}
          options={OPENINGS.map((one) => ({ value: one, label: say(OPENING_WORDS[one]) }))}
          onChange={(value) => onChange({ ...definition, opensOn: value as DefinedForm['opensOn'] })}
        />
        <RecordsShown definition={definition} onChange={onChange} />
        <CheckField
          label={say('Show who created and changed a record')}
          checked={definition.showStamp}
          onChange={(showStamp) => onChange({ ...definition, showStamp })}
        />
      </div>
      <DestinationSettings definition={definition} prepared={prepared} onChange={onChange} />
      <NextSteps definition={definition} onChange={onChange} />
      <PublicPageLink page={definition.page} />
      <SettingsGroup
        title={say('Rules of its table')}
        letter="V"
        about={say('They guard every path into the table, this form too.')}
      >
        <TableRules table={prepared.table} />
      </SettingsGroup>
      {form !== undefined && <WhereUsed thing={{ form }} />}
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
      label={say('Records and their order')}
      value={view === null ? '' : String(view)}
      options={[
        { value: '', label: say('all, in order of entry') },
        ...shared.map((one) => ({
          value: String(one.id),
          label: say('those of the view {label}', { label: one.label }),
        })),
        ...(gone ? [{ value: String(view), label: say('a view that is not there any more') }] : []),
      ]}
      {...(gone ? { problem: say('Choose another view, or all records.') } : {})}
      help={say('Record 3 of 17, the rows to fill, and the list to choose from follow it.')}
      onChange={(value) => onChange({ ...definition, view: value === '' ? null : Number(value) })}
    />
  );
}

/** Whether it has a public page, with the way to its settings. */
function PublicPageLink({ page }: Pick<DefinedForm, 'page'>) {
  return (
    <SettingsGroup
      title={say('Public page')}
      about={say('A page that is filled by link or QR code, without an account.')}
    >
      <p>
        {page ? `${say('Stands at /p/{slug}.', { slug: page.slug })} ` : `${say('It has none.')} `}
        <Link to="../page" relative="path">
          {page ? say('Settings of the public page') : say('Make a public page')}
        </Link>
      </p>
    </SettingsGroup>
  );
}
