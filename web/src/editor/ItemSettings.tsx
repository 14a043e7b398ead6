import { isField, isSubform, itemKey } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { linkedTable } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { pageCss, SelectField, sayWith, sentenceCss, settingsCss } from '../parts/index.ts';
import { CardLayout, TextControl } from '../tables/index.ts';
import { changeSection, itemOn, removeSection, replaceItem } from './edit.ts';
import type { ItemSettingsProps } from './fieldSettingsProps.ts';
import panelCss from './panel.module.css';
import { Findings, RemoveFromForm, SettingsGroup, ShownWhen } from './SettingsGroup.tsx';

/** The sentences of a section: its heading, its columns, when it shows. */
export function SectionSettings({ definition, prepared, findings, selected, onChange }: ItemSettingsProps) {
  const section = definition.sections.find((one) => `§${one.id}` === selected);
  if (!section) return null;
  const set = (change: Parameters<typeof changeSection>[2]): void =>
    onChange(changeSection(definition, section.id, change));
  return (
    <>
      <header className={panelCss.head}>
        <h2>{section.label || say('Section')}</h2>
      </header>
      <Findings findings={findings.filter((finding) => finding.path === `#${section.id}`)} />
      <div className={settingsCss.form}>
        <TextControl
          key={section.label}
          label={say('Heading')}
          text={section.label}
          none={say('none')}
          onSet={(label) => set({ label })}
        />
        <SelectField
          label={say('Columns on a wide card')}
          value={String(section.columns)}
          options={['1', '2', '3', '4'].map((value) => ({ value, label: value }))}
          onChange={(value) => set({ columns: Number(value) })}
        />
      </div>
      <ShownWhen
        what={say('the section')}
        about={say('Hidden fields are neither required nor checked.')}
        prepared={prepared}
        except={section.items.filter(isField).map((one) => one.field)}
        condition={section.shownWhen}
        onChange={(shownWhen) => set({ shownWhen })}
      />
      {definition.sections.length > 1 && (
        <p className={clsx(pageCss.acts, panelCss.part)}>
          <Button variant="text" onClick={() => onChange(removeSection(definition, section.id))}>
            {say('Remove the section; its fields stay')}
          </Button>
        </p>
      )}
    </>
  );
}

/** A field of the form that the table does not have any more, or not in use: it can only be removed. */
export function GoneFieldSettings({ definition, findings, selected, onChange }: ItemSettingsProps) {
  return (
    <>
      <header className={panelCss.head}>
        <h2>{selected}</h2>
      </header>
      <Findings findings={findings.filter((finding) => finding.path === selected)} />
      <RemoveFromForm {...{ definition, selected, onChange }} />
    </>
  );
}

/** The sentences of a heading, a note or a reference card. */
export function WordsSettings({ definition, prepared, findings, selected, onChange }: ItemSettingsProps) {
  const item = itemOn(definition, selected);
  if (!item || isField(item) || isSubform(item)) return null;
  const remove = <RemoveFromForm {...{ definition, selected, onChange }} />;
  const found = <Findings findings={findings.filter((finding) => finding.path === selected)} />;
  if (item.kind === 'card') {
    const link = prepared.fields.get(item.of);
    const table = prepared.tables.get(linkedTable(link?.field) ?? '');
    return (
      <>
        <header className={panelCss.head}>
          <h2>{say('Reference card')}</h2>
        </header>
        {found}
        <SettingsGroup title={say('Record')} about={say('Read-only and always current: no copy.')}>
          <p className={sentenceCss.sentence}>
            {sayWith('What is known of the record that this form’s {name} points at.', {
              name: <strong>{link?.label ?? item.of}</strong>,
            })}
          </p>
        </SettingsGroup>
        {table && (
          <SettingsGroup
            title={say('What it shows of {label}', { label: table.label })}
            about={say('Laid out once, for every form that links there.')}
          >
            <CardLayout table={table} />
          </SettingsGroup>
        )}
        {remove}
      </>
    );
  }
  return (
    <>
      <header className={panelCss.head}>
        <h2>{item.kind === 'heading' ? say('Heading') : say('Note')}</h2>
      </header>
      {found}
      <div className={settingsCss.form}>
        <TextControl
          key={item.text}
          label={item.kind === 'heading' ? say('Heading') : say('Note')}
          text={item.text}
          multiline={item.kind === 'note'}
          onSet={(text) => {
            if (text === '') throw new Error(say('Write something, or remove it from the form.'));
            onChange(replaceItem(definition, itemKey(item), { ...item, text }));
          }}
        />
      </div>
      {remove}
    </>
  );
}
