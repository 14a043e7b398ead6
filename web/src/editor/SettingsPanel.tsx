import type { FindingView } from '@fiche/core/api';
import { type EntryState, readable, readForm } from '@fiche/core/entry';
import { say } from '@fiche/core/languages';
import { changeLines, fieldOn, lineKey } from './edit.ts';
import { FieldSettings } from './FieldSettings.tsx';
import { FormSettings } from './FormSettings.tsx';
import type { ItemSettingsProps, LiveValues } from './fieldSettingsProps.ts';
import { GoneFieldSettings, SectionSettings, WordsSettings } from './ItemSettings.tsx';
import panelCss from './panel.module.css';
import { SubformSettings } from './SubformSettings.tsx';

interface SettingsPanelProps extends Omit<ItemSettingsProps, 'selected'> {
  /** The form’s id. */
  readonly id: string;
  readonly selected: string | undefined;
  /** What is entered on the live card now. */
  readonly entry: EntryState | undefined;
}

/** The settings of what is selected: a field, one of a subform’s lines, a subform, a section, words, or the form itself. */
export function SettingsPanel({ id, selected, entry, ...panel }: SettingsPanelProps) {
  const { definition, prepared, findings, onChange: change } = panel;
  const field = selected === undefined ? undefined : prepared.fields.get(selected);
  const inLines = lineKey(selected);
  const subform = prepared.subforms.get(inLines?.subform ?? '');
  const lineField = subform?.form.fields.get(inLines?.key ?? '');
  return (
    <aside className={panelCss.panel} aria-label={say('Settings')}>
      {subform && lineField?.placed ? (
        <FieldSettings
          key={selected}
          id={id}
          definition={subform.form.definition}
          prepared={subform.form}
          findings={findingsWithin(findings, subform.id)}
          field={lineField}
          live={liveValues(entry?.lines[subform.id]?.[0]?.state)}
          onChange={(lines) => change(changeLines(definition, subform.id, prepared.tables, () => lines))}
        />
      ) : prepared.subforms.has(selected ?? '') ? (
        <SubformSettings key={selected} {...panel} selected={selected ?? ''} />
      ) : field?.placed ? (
        <FieldSettings key={field.id} {...panel} id={id} field={field} live={liveValues(entry)} />
      ) : selected !== undefined && fieldOn(definition, selected) ? (
        <GoneFieldSettings key={selected} {...panel} selected={selected} />
      ) : selected?.startsWith('§') ? (
        <SectionSettings key={selected} {...panel} selected={selected} />
      ) : selected?.startsWith('#') ? (
        <WordsSettings key={selected} {...panel} selected={selected} />
      ) : (
        <FormSettings definition={definition} prepared={prepared} onChange={change} />
      )}
    </aside>
  );
}

/** The findings in the lines of a subform, at their own places. */
const findingsWithin = (findings: readonly FindingView[], subform: string): FindingView[] =>
  findings.flatMap((one) =>
    one.path.startsWith(`${subform}/`) ? [{ ...one, path: one.path.slice(subform.length + 1) }] : [],
  );

/** The values of the live card, or of the first line of one of its subforms. */
const liveValues = (entry: EntryState | undefined): LiveValues | undefined =>
  entry && { now: entry.opening.now, valueAt: (path) => readForm(readable(entry), path) };
