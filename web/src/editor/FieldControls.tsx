import { isNumbered, isOneValue, linksOne } from '@fiche/core/fields';
import { itemKey, type PlacedField } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { typeOf } from '@fiche/core/tables';
import { useState } from 'react';
import { CheckField, SelectField, settingsCss, textCss } from '../parts/index.ts';
import { aroundOf, ExpressionSlot } from '../sentences/index.ts';
import { DefaultControl, defaultWords, kindWords, TextControl } from '../tables/index.ts';
import { addItem, freshItemId } from './edit.ts';
import type { FieldSettingsProps } from './fieldSettingsProps.ts';

type SetField = (change: Partial<PlacedField>) => void;

/** The ordinary settings of a field on this form: label, required, read-only, default, help text, reference card. */
export function FieldControls(props: FieldSettingsProps & { one: PlacedField; set: SetField }) {
  const { prepared, field, one, set } = props;
  const { field: column } = field;
  const type = typeOf(column);
  const written = type.editable && column.calculation === null;
  const calculated = one.calculation !== null;
  return (
    <div className={settingsCss.form}>
      <p className={textCss.faded}>
        {kindWords(column, prepared.tables)}
        {isNumbered(column) && say(', given on save')}
        {column.calculation !== null &&
          say(', calculated by its table as {calculation}', { calculation: column.calculation })}
      </p>
      <TextControl
        key={`label ${one.label}`}
        label={say('Label')}
        text={one.label ?? ''}
        none={column.label}
        onSet={(text) => set({ label: text === '' || text === column.label ? null : text })}
      />
      {written && !calculated && (
        <div>
          <CheckField
            label={column.required ? say('Required, by the table') : say('Required')}
            checked={field.required}
            disabled={column.required || one.readOnly}
            onChange={(required) => set({ required })}
          />
          <CheckField label={say('Read-only')} checked={one.readOnly} onChange={(readOnly) => set({ readOnly })} />
        </div>
      )}
      {written && !calculated && isOneValue(column) && <FormDefault {...props} />}
      <TextControl
        key={`help ${one.help}`}
        label={say('Help text')}
        text={one.help ?? column.help}
        none={say('none')}
        onSet={(text) => set({ help: text === column.help ? null : text })}
      />
      {linksOne(column) && <ReferenceCardSwitch {...props} />}
    </div>
  );
}

/** The default on this form: that of the table, none, or one of its own. */
function FormDefault({ field, one, set }: FieldSettingsProps & { one: PlacedField; set: SetField }) {
  const { field: column } = field;
  const none = one.initial?.kind === 'value' && one.initial.value === null;
  const [choosing, setChoosing] = useState(false);
  const own = choosing || (one.initial !== null && !none);
  const ofTable = defaultWords(column);
  return (
    <>
      <SelectField
        label={say('Default value')}
        value={own ? 'own' : none ? 'none' : 'table'}
        options={[
          { value: 'table', label: ofTable === '' ? say('none') : say('as the table: {ofTable}', { ofTable }) },
          ...(ofTable === '' ? [] : [{ value: 'none', label: say('none') }]),
          { value: 'own', label: say('its own on this form') },
        ]}
        onChange={(value) => {
          setChoosing(value === 'own');
          if (value !== 'own') set({ initial: value === 'none' ? { kind: 'value', value: null } : null });
        }}
      />
      {own && (
        <DefaultControl
          label={say('Value')}
          field={{ type: column.type, settings: column.settings, initial: none ? null : one.initial }}
          onSet={(initial) => set({ initial: initial ?? { kind: 'value', value: null } })}
        />
      )}
    </>
  );
}

/** A link can show its record’s reference card below it. */
function ReferenceCardSwitch({ definition, field, onChange }: FieldSettingsProps) {
  const card = definition.sections
    .flatMap((section) => section.items)
    .find((item) => item.kind === 'card' && item.of === field.id);
  return (
    <CheckField
      label={say('With its reference card')}
      checked={card !== undefined}
      onChange={(on) => {
        if (on)
          onChange(addItem(definition, { kind: 'card', id: freshItemId(definition, 'card'), of: field.id }, field.id));
        else if (card)
          onChange({
            ...definition,
            sections: definition.sections.map((section) => ({
              ...section,
              items: section.items.filter((item) => itemKey(item) !== itemKey(card)),
            })),
          });
      }}
    />
  );
}

/** The formula that calculates a field on this form, so that nobody types it. */
export function FieldCalculation(props: FieldSettingsProps & { one: PlacedField; set: SetField }) {
  const { field, prepared, live, one, set } = props;
  return (
    <ExpressionSlot
      label={say('Formula of {label}', { label: field.label })}
      source={one.calculation}
      addLabel={say('Calculate it…')}
      fields={[...prepared.fields.values()]
        .filter((other) => other.id !== field.id)
        .map((other) => ({ ...other.field, label: other.label }))}
      tables={prepared.tables}
      lines={aroundOf(prepared).lines}
      into={field.field}
      valueAt={live?.valueAt}
      now={live?.now ?? ''}
      onSet={(calculation) => set({ calculation, readOnly: false })}
    />
  );
}
