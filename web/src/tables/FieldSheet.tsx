import { fieldType, isLinking, isOneValue, linksSeveral } from '@fiche/core/fields';
import type { FieldDefinition, TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { useState } from 'react';
import { useOffice } from '../client/index.ts';
import { CheckField, Sheet, settingsCss, textCss } from '../parts/index.ts';
import { ExpressionSlot } from '../sentences/index.ts';
import { ChangeType } from './ChangeType.tsx';
import { DefaultControl } from './DefaultControl.tsx';
import { kindWords, typeOptions } from './fieldKind.ts';
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
  const base = `/api/tables/${table.id}`;
  const patch = (body: object): Promise<boolean> =>
    change('PATCH', `${base}/fields/${field.id}`, { ...body, revision: table.revision });
  const type = fieldType(field.type);
  const calculated = field.calculation !== null;
  const switchable = type.editable && !linksSeveral(field);
  const { broken, setBroken, tryFirst } = useTrial(table);

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
        {broken && <BrokenNote table={table} broken={broken} onClose={() => setBroken(undefined)} />}
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
      {isLinking(field) && <ChoicesGroup table={table} field={field} patch={patch} tryFirst={tryFirst} />}
      {type.editable && isOneValue(field) && <CalculationGroup table={table} field={field} patch={patch} />}
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

interface GroupProps {
  readonly table: TableDefinition;
  readonly field: FieldDefinition;
  patch(body: object): Promise<boolean>;
}

/** What a link is narrowed to in its table. */
function ChoicesGroup({ table, field, patch, tryFirst }: GroupProps & { tryFirst: TryFirst }) {
  return (
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
  );
}

/** The formula that gives the field its value. */
function CalculationGroup({ table, field, patch }: GroupProps) {
  const { tables } = useOffice();
  return (
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
  );
}

interface BrokenNoteProps {
  readonly table: TableDefinition;
  readonly broken: BrokenRecords;
  onClose(): void;
}

/** Which records a change would break, with what can be done. */
function BrokenNote({ table, broken: { heading, breaks, examples, anyway }, onClose }: BrokenNoteProps) {
  const { cabinet } = useOffice();
  return (
    <Trial heading={heading} path={`/${cabinet.id}/tables/${table.id}`} breaks={breaks} examples={examples}>
      {anyway && <Button onClick={anyway}>Use it for records saved from now on</Button>}
      <Button variant="text" onClick={onClose}>
        Cancel
      </Button>
    </Trial>
  );
}
