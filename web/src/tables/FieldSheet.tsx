import { fieldType, isLinking, isOneValue, linksSeveral } from '@fiche/core/fields';
import { say, sayCount } from '@fiche/core/languages';
import type { FieldDefinition, TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { useState } from 'react';
import { useOffice } from '../client/index.ts';
import { CheckField, Sheet, settingsCss, textCss } from '../parts/index.ts';
import { ExpressionSlot } from '../sentences/index.ts';
import { AskedAct, askUses, WhereUsed } from '../uses/index.ts';
import { ChangeType } from './ChangeType.tsx';
import { DefaultControl } from './DefaultControl.tsx';
import { kindWords, typeOptions } from './fieldKind.ts';
import { ReplaceOptions } from './ReplaceOptions.tsx';
import { SettingControl, TextControl } from './SettingControl.tsx';
import { settingsOf } from './settings.ts';
import { TableNarrowing } from './TableNarrowing.tsx';
import { Trial } from './Trial.tsx';
import type { ChangeTable } from './useTableWork.tsx';
import { type BrokenRecords, type TryFirst, useTrial } from './useTrial.ts';

interface FieldSheetProps {
  readonly table: TableDefinition;
  readonly field: FieldDefinition;
  readonly change: ChangeTable;
  onClose(): void;
}

/** The settings of one field: ordinary controls first, then its sentences. */
export function FieldSheet({ table, field, change, onClose }: FieldSheetProps) {
  const { tables } = useOffice();
  const [retyping, setRetyping] = useState(false);
  const { patch, setSettings, switchOn, tryFirst, broken, clearBroken } = useFieldChanges(table, field, change);
  const type = fieldType(field.type);
  const calculated = field.calculation !== null;
  const switchable = type.editable && !linksSeveral(field);
  return (
    <Sheet title={field.label} label={say('Field {label}', { label: field.label })} onClose={onClose}>
      <p className={clsx(textCss.mono, textCss.faded)}>{field.id}</p>
      <div className={settingsCss.form}>
        <TextControl
          key={field.label}
          label={say('Name')}
          text={field.label}
          onSet={(label) => void patch({ label })}
        />
        <div>
          <span className={textCss.faded}>{say('Type')}</span> <strong>{kindWords(field, tables)}</strong>{' '}
          {typeOptions().some((one) => one.value === field.type) && !retyping && (
            <Button variant="text" onClick={() => setRetyping(true)}>
              {say('Change type…')}
            </Button>
          )}
        </div>
        {retyping && <ChangeType table={table} field={field} change={change} onClose={() => setRetyping(false)} />}
        {switchable && (
          <div>
            <CheckField label={say('Required')} checked={field.required} onChange={(on) => switchOn('required', on)} />
            <CheckField label={say('Unique')} checked={field.unique} onChange={(on) => switchOn('unique', on)} />
          </div>
        )}
        {broken && <BrokenNote table={table} field={field} broken={broken} onClose={clearBroken} />}
        {settingsOf(field.type, field.settings).map((setting) => (
          <SettingControl
            key={setting.key}
            type={field.type}
            settings={field.settings}
            setting={setting}
            onSet={(settings) => setSettings(settings, setting.label.toLowerCase())}
          />
        ))}
        {type.editable && !calculated && isOneValue(field) && (
          <DefaultControl field={field} onSet={(initial) => void patch({ initial })} />
        )}
        <TextControl
          key={`help ${field.help}`}
          label={say('Help text')}
          text={field.help}
          none={say('none')}
          onSet={(help) => void patch({ help })}
        />
      </div>
      {isLinking(field) && <ChoicesGroup table={table} field={field} patch={patch} tryFirst={tryFirst} />}
      {type.editable && isOneValue(field) && <CalculationGroup table={table} field={field} patch={patch} />}
      <WhereUsed thing={{ table: table.id, field: field.id }} holding={say('have a value in it')} />
      <div className={settingsCss.acts}>
        <AskedAct
          label={say('Archive field')}
          thing={{ table: table.id, field: field.id }}
          act={() =>
            void change('POST', `/api/tables/${table.id}/fields/${field.id}/retire`, {}).then(
              (done) => done && onClose(),
            )
          }
        />
      </div>
    </Sheet>
  );
}

/** Sends changes of a field; those that records or definitions stand against are tried first, and kept in `broken`. */
function useFieldChanges(table: TableDefinition, field: FieldDefinition, change: ChangeTable) {
  const { cabinet } = useOffice();
  const { broken, setBroken, tryFirst } = useTrial(table);
  const patch = (body: object): Promise<boolean> =>
    change('PATCH', `/api/tables/${table.id}/fields/${field.id}`, { ...body, revision: table.revision });
  /** Sets settings; options that go and that definitions still name are shown first. */
  const setOrAsk = async (settings: FieldDefinition['settings']): Promise<boolean> => {
    const named = await namedOptions(cabinet.id, table, field, settings);
    if (named.length === 0) return patch({ settings });
    const anyway = (): void => {
      setBroken(undefined);
      void patch({ settings });
    };
    const heading = sayCount(named.length, '{list} is still named elsewhere.', '{list} are still named elsewhere.', {
      list: named.map((one) => `“${one}”`).join(', '),
    });
    setBroken({ heading, breaks: 0, examples: [], settings, anyway });
    return false;
  };
  const setSettings = (settings: FieldDefinition['settings'], named: string): void =>
    void tryFirst({ kind: 'limits', field: field.id, settings }, () => setOrAsk(settings), named, true);
  const switchOn = (key: 'required' | 'unique', on: boolean): void => {
    if (on)
      void tryFirst(
        { kind: key, field: field.id },
        () => patch({ [key]: true }),
        key === 'required'
          ? say('{label} is required', { label: field.label })
          : say('{label} is unique', { label: field.label }),
        false,
      );
    else void patch({ [key]: false });
  };
  return { patch, setSettings, switchOn, tryFirst, broken, clearBroken: () => setBroken(undefined) };
}

/** The options that new settings of a field do not have any more, and that forms, rules, views or roles still name. */
async function namedOptions(
  cabinet: string,
  table: TableDefinition,
  field: FieldDefinition,
  settings: FieldDefinition['settings'],
): Promise<string[]> {
  const named: string[] = [];
  for (const option of removedOptions(field, settings)) {
    const { uses } = await askUses(cabinet, { table: table.id, field: field.id, option });
    if (uses.length > 0) named.push(option);
  }
  return named;
}

/** The options of a field that other settings do not have. */
function removedOptions(field: FieldDefinition, settings: FieldDefinition['settings'] | undefined): string[] {
  const kept = settings?.choices as string[] | undefined;
  return kept ? ((field.settings.choices as string[] | undefined) ?? []).filter((one) => !kept.includes(one)) : [];
}

interface GroupProps {
  readonly table: TableDefinition;
  readonly field: FieldDefinition;
  patch(body: object): Promise<boolean>;
}

/** What a link is narrowed to in its table. */
function ChoicesGroup({ table, field, patch, tryFirst }: GroupProps & { tryFirst: TryFirst }) {
  return (
    <section className={settingsCss.group} aria-label={say('Choices')}>
      <h3>{say('Choices')}</h3>
      <p className={textCss.faded}>
        {say('For every form, list and import of {label}; forms may narrow further.', { label: table.label })}
      </p>
      <TableNarrowing
        table={table}
        field={field}
        onChange={(narrowing) =>
          narrowing === null
            ? void patch({ narrowing })
            : void tryFirst(
                { kind: 'narrowing', field: field.id, narrowing },
                () => patch({ narrowing }),
                say('{label} is narrowed', { label: field.label }),
                true,
              )
        }
      />
    </section>
  );
}

/** The formula that gives the field its value. */
function CalculationGroup({ table, field, patch }: GroupProps) {
  const { tables } = useOffice();
  return (
    <section className={settingsCss.group} aria-label={say('Calculation')}>
      <h3>{say('Calculation')}</h3>
      <p className={textCss.faded}>
        {say('Nobody types a calculated value. Existing records keep theirs until they are saved.')}
      </p>
      <ExpressionSlot
        label={say('Formula of {label}', { label: field.label })}
        source={field.calculation}
        fields={table.fields.filter((one) => one.id !== field.id)}
        tables={tables}
        into={field}
        now=""
        addLabel={say('Calculate it…')}
        onSet={(calculation) => void patch({ calculation })}
      />
    </section>
  );
}

interface BrokenNoteProps {
  readonly table: TableDefinition;
  readonly field: FieldDefinition;
  readonly broken: BrokenRecords;
  onClose(): void;
}

/** Which records a change would break, with what can be done. */
function BrokenNote({ table, field, broken, onClose }: BrokenNoteProps) {
  const { heading, breaks, examples, anyway, settings } = broken;
  const { cabinet } = useOffice();
  const removed = removedOptions(field, settings);
  const kept = (settings?.choices as string[] | undefined) ?? [];
  return (
    <Trial heading={heading} path={`/${cabinet.id}/tables/${table.id}`} breaks={breaks} examples={examples}>
      {removed.length > 0 && <ReplaceOptions table={table} field={field} removed={removed} kept={kept} />}
      {anyway && <Button onClick={anyway}>{say('Use it for records saved from now on')}</Button>}
      <Button variant="text" onClick={onClose}>
        {say('Cancel')}
      </Button>
    </Trial>
  );
}
