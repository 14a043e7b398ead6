import { type Subform, subformsOf } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { clsx } from 'clsx';
import { SelectField, sayWith, settingsCss, textCss } from '../parts/index.ts';
import { TextControl } from '../tables/index.ts';
import { useViews } from '../views/index.ts';
import { replaceItem } from './edit.ts';
import type { ItemSettingsProps } from './fieldSettingsProps.ts';
import panelCss from './panel.module.css';
import { Findings, RemoveFromForm, ShownWhen } from './SettingsGroup.tsx';

/** The sentences of a subform: whose lines, how they are entered, how many, when it shows. */
export function SubformSettings({ definition, prepared, findings, selected, onChange }: ItemSettingsProps) {
  const subform = subformsOf(definition).find((one) => one.id === selected);
  if (!subform) return null;
  const table = prepared.tables.get(subform.table);
  const label = subform.label ?? table?.label ?? subform.id;
  const set = (change: Partial<Subform>): void =>
    onChange(replaceItem(definition, subform.id, { ...subform, ...change }));
  return (
    <>
      <header className={panelCss.head}>
        <h2>{label}</h2> <span className={clsx(textCss.mono, textCss.faded)}>{subform.id}</span>
      </header>
      <Findings findings={findings.filter((finding) => finding.path === subform.id)} />
      <div className={settingsCss.form}>
        <p className={textCss.faded}>
          {say('Lines: the records of {label} that belong to this one, saved together with it.', {
            label: table?.label ?? subform.table,
          })}
        </p>
        <TextControl
          key={`label ${subform.label}`}
          label={say('Name')}
          text={subform.label ?? ''}
          none={table?.label}
          onSet={(text) => set({ label: text === '' || text === table?.label ? null : text })}
        />
        <SelectField
          label={say('Lines are entered as')}
          value={subform.as}
          options={[
            { value: 'rows', label: say('rows: dense, a cell each') },
            { value: 'cards', label: say('cards: for lines with many fields') },
          ]}
          onChange={(as) => set({ as: as as Subform['as'] })}
        />
        <LinesShown subform={subform} onChange={set} />
        <CountControl label={say('Least number of lines')} value={subform.least} onSet={(least) => set({ least })} />
        <CountControl label={say('Greatest number of lines')} value={subform.most} onSet={(most) => set({ most })} />
      </div>
      <p className={panelCss.about}>
        {sayWith('Formulas and rules of the form know the lines as {code}: {second}, {third}.', {
          code: <code>{subform.id}</code>,
          second: <code>count({subform.id})</code>,
          third: <code>sum({subform.id}.…)</code>,
        })}
      </p>
      <ShownWhen
        what={label}
        about={say('Lines of a hidden subform are not saved.')}
        prepared={prepared}
        except={[]}
        condition={subform.shownWhen}
        onChange={(shownWhen) => set({ shownWhen })}
      />
      <RemoveFromForm {...{ definition, selected, onChange }} />
    </>
  );
}

const ALL = 'all';

/** Which lines are shown: all of the record, or those that a shared view finds. Nothing where there is no such view. */
function LinesShown({ subform, onChange }: { subform: Subform; onChange(change: Partial<Subform>): void }) {
  const { views } = useViews(subform.table);
  const shared = views?.filter((one) => one.shared) ?? [];
  const view = subform.view ?? null;
  const gone = view !== null && views !== undefined && !shared.some((one) => one.id === view);
  if (shared.length === 0 && view === null) return null;
  return (
    <SelectField
      label={say('Lines shown')}
      value={view === null ? ALL : String(view)}
      options={[
        { value: ALL, label: say('all lines of the record') },
        ...shared.map((one) => ({
          value: String(one.id),
          label: say('those of the view {label}', { label: one.label }),
        })),
        ...(gone ? [{ value: String(view), label: say('a view that is not there any more') }] : []),
      ]}
      {...(gone ? { problem: say('Choose another view, or all lines.') } : {})}
      onChange={(value) => onChange({ view: value === ALL ? null : Number(value) })}
    />
  );
}

interface CountControlProps {
  readonly label: string;
  readonly value: number | null;
  onSet(value: number | null): void;
}

/** A number of lines from 1 to 999; empty for no limit. */
function CountControl({ label, value, onSet }: CountControlProps) {
  return (
    <TextControl
      key={value}
      label={label}
      text={value === null ? '' : String(value)}
      none={say('no limit')}
      onSet={(text) => {
        if (text !== '' && !/^[1-9]\d{0,2}$/.test(text))
          throw new Error(say('Write a number from 1 to 999, or nothing.'));
        onSet(text === '' ? null : Number(text));
      }}
    />
  );
}
