import { fieldType, isLinking, isOneValue, linksSeveral } from '@fiche/core/fields';
import { formatCount } from '@fiche/core/office';
import type { FieldDefinition, TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { CheckField, Sheet, settingsCss, textCss, useNotify } from '../parts/index.ts';
import { ExpressionSlot } from '../sentences/index.ts';
import { ChangeType } from './ChangeType.tsx';
import { DefaultControl } from './DefaultControl.tsx';
import { kindWords, typeOptions } from './fieldKind.ts';
import { SettingControl, TextControl } from './SettingControl.tsx';
import { settingsOf } from './settings.ts';
import { TableNarrowing } from './TableNarrowing.tsx';
import { type BrokenRecord, Trial } from './Trial.tsx';
import type { ChangeTable } from './useTableWork.tsx';

interface FieldSheetProps {
  readonly table: TableDefinition;
  readonly field: FieldDefinition;
  readonly change: ChangeTable;
  onClose(): void;
}

/** What a change would break among the existing records. */
interface BrokenRecords {
  readonly heading: string;
  readonly breaks: number;
  readonly examples: readonly BrokenRecord[];
  /** Makes the change all the same: limits then hold for records that are saved from now on. */
  readonly anyway?: () => void;
}

/** The settings of one field: ordinary controls first, then its sentences. */
export function FieldSheet({ table, field, change, onClose }: FieldSheetProps) {
  const { cabinet, tables } = useOffice();
  const [broken, setBroken] = useState<BrokenRecords>();
  const [retyping, setRetyping] = useState(false);
  const notify = useNotify();
  const base = `/api/tables/${table.id}`;
  const patch = (body: object): Promise<boolean> =>
    change('PATCH', `${base}/fields/${field.id}`, { ...body, revision: table.revision });
  const type = fieldType(field.type);
  const calculated = field.calculation !== null;
  const switchable = type.editable && !linksSeveral(field);

  /** Counts the records that the change would break, and makes it when there are none. */
  const tryFirst = async (trial: object, set: () => Promise<boolean>, what: string, mayAnyway: boolean) => {
    setBroken(undefined);
    try {
      const found = await send<BrokenRecords>('POST', `${base}/trial`, trial);
      if (found.breaks === 0) return void (await set());
      const records = found.breaks === 1 ? '1 record breaks' : `${formatCount(found.breaks)} records break`;
      const anyway = (): void => {
        setBroken(undefined);
        void set();
      };
      setBroken({ ...found, heading: `${records} this already: ${what}.`, ...(mayAnyway ? { anyway } : {}) });
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const switchOn = (key: 'required' | 'unique', on: boolean): void => {
    if (on)
      void tryFirst({ kind: key, field: field.id }, () => patch({ [key]: true }), `${field.label} is ${key}`, false);
    else void patch({ [key]: false });
  };
  return (
    <Sheet title={field.label} label={`Field ${field.label}`} onClose={onClose}>
      <p className={clsx(textCss.mono, textCss.faded)}>{field.id}</p>
      <div className={settingsCss.form}>
        <TextControl key={field.label} label="Name" text={field.label} onSet={(label) => void patch({ label })} />
        <div>
          <span className={textCss.faded}>Type</span> <strong>{kindWords(field, tables)}</strong>{' '}
          {typeOptions().some((one) => one.value === field.type) && !retyping && (
            <Button variant="text" onClick={() => setRetyping(true)}>
              Change type…
            </Button>
          )}
        </div>
        {retyping && <ChangeType table={table} field={field} change={change} onClose={() => setRetyping(false)} />}
        {switchable && (
          <div>
            <CheckField label="Required" checked={field.required} onChange={(on) => switchOn('required', on)} />
            <CheckField label="Unique" checked={field.unique} onChange={(on) => switchOn('unique', on)} />
          </div>
        )}
        {broken && (
          <Trial
            heading={broken.heading}
            path={`/${cabinet.id}/tables/${table.id}`}
            breaks={broken.breaks}
            examples={broken.examples}
          >
            {broken.anyway && <Button onClick={broken.anyway}>Use it for records saved from now on</Button>}
            <Button variant="text" onClick={() => setBroken(undefined)}>
              Cancel
            </Button>
          </Trial>
        )}
        {settingsOf(field.type, field.settings).map((setting) => (
          <SettingControl
            key={setting.key}
            type={field.type}
            settings={field.settings}
            setting={setting}
            onSet={(settings) =>
              void tryFirst(
                { kind: 'limits', field: field.id, settings },
                () => patch({ settings }),
                setting.label.toLowerCase(),
                true,
              )
            }
          />
        ))}
        {type.editable && !calculated && isOneValue(field) && (
          <DefaultControl field={field} onSet={(initial) => void patch({ initial })} />
        )}
        <TextControl
          key={`help ${field.help}`}
          label="Help text"
          text={field.help}
          none="none"
          onSet={(help) => void patch({ help })}
        />
      </div>
      {isLinking(field) && (
        <section className={settingsCss.group} aria-label="Choices">
          <h3>Choices</h3>
          <p className={textCss.faded}>For every form, list and import of {table.label}; forms may narrow further.</p>
          <TableNarrowing
            table={table}
            field={field}
            onChange={(narrowing) =>
              narrowing === null
                ? void patch({ narrowing })
                : void tryFirst(
                    { kind: 'narrowing', field: field.id, narrowing },
                    () => patch({ narrowing }),
                    `${field.label} is narrowed`,
                    true,
                  )
            }
          />
        </section>
      )}
      {type.editable && isOneValue(field) && (
        <section className={settingsCss.group} aria-label="Calculation">
          <h3>Calculation</h3>
          <p className={textCss.faded}>
            Nobody types a calculated value. Existing records keep theirs until they are saved.
          </p>
          <ExpressionSlot
            label={`Formula of ${field.label}`}
            source={field.calculation}
            fields={table.fields.filter((one) => one.id !== field.id)}
            tables={tables}
            into={field}
            now=""
            addLabel="Calculate it…"
            onSet={(calculation) => void patch({ calculation })}
          />
        </section>
      )}
      <div className={settingsCss.acts}>
        <Button
          variant="text"
          color="error"
          onClick={() => void change('POST', `${base}/fields/${field.id}/retire`, {}).then((done) => done && onClose())}
        >
          Archive field
        </Button>
      </div>
    </Sheet>
  );
}
