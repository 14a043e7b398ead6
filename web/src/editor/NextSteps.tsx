import type { ListedForm } from '@fiche/core/api';
import { isNumbered, linksOne } from '@fiche/core/fields';
import {
  type AfterSave,
  afterSaveOf,
  type DefinedForm,
  proposeStart,
  SELF,
  type Start,
  startsOf,
} from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { type TableDefinition, targetTable, typeOf } from '@fiche/core/tables';
import RemoveIcon from '@mui/icons-material/Close';
import IconButton from '@mui/material/IconButton';
import { useOffice } from '../client/index.ts';
import { SelectField, settingsCss, textCss } from '../parts/index.ts';
import { TextControl } from '../tables/index.ts';
import nextStepsCss from './nextSteps.module.css';
import { SettingsGroup } from './SettingsGroup.tsx';

interface NextStepsProps {
  readonly definition: DefinedForm;
  onChange(definition: DefinedForm): void;
}

const AFTER: readonly (readonly [kind: Exclude<AfterSave['kind'], 'form'>, words: string])[] = [
  ['card', say('the card of the record')],
  ['blank', say('a blank card')],
  ['list', say('the list of the table')],
];

/** What follows a save, and buttons of a card that start other forms with values of its record. */
export function NextSteps({ definition, onChange }: NextStepsProps) {
  const { cabinet, tables } = useOffice();
  const after = afterSaveOf(definition);
  const starts = startsOf(definition);
  const others = cabinet.forms.filter((form) => form.liveVersion !== null && !form.archived);
  const table = tables.get(definition.table);
  const setStarts = (next: readonly Start[]): void => onChange({ ...definition, starts: [...next] });
  const add = (id: string): void => {
    const form = others.find((one) => one.id === id);
    const target = tables.get(form?.table ?? '');
    if (!form || !target || !table) return;
    const [plain, taken] = [form.label.slice(0, 36), new Set(starts.map((one) => one.label))];
    let label = plain;
    for (let n = 2; taken.has(label); n++) label = `${plain} ${n}`;
    setStarts([...starts, { label, form: id, pairs: proposeStart(table, target) }]);
  };
  return (
    <SettingsGroup
      title={say('Next steps')}
      about={say('What follows a save, and buttons that start another form from a record.')}
    >
      <div className={settingsCss.form}>
        <SelectField
          label={say('After a save comes')}
          value={after.kind === 'form' ? `form:${after.form}` : after.kind}
          options={[
            ...AFTER.map(([value, label]) => ({ value, label })),
            ...others.map((form) => ({
              value: `form:${form.id}`,
              label: say('a blank card of {label}', { label: form.label }),
            })),
          ]}
          onChange={(value) => {
            const plain = AFTER.find(([kind]) => kind === value);
            onChange({ ...definition, after: plain ? { kind: plain[0] } : { kind: 'form', form: value.slice(5) } });
          }}
        />
        {starts.map((start, at) => (
          <StartSettings
            key={`${start.form} ${start.label}`}
            {...{ start, table }}
            form={cabinet.forms.find((one) => one.id === start.form)}
            onChange={(next) => setStarts(starts.map((one, place) => (place === at ? next : one)))}
            onRemove={() => setStarts(starts.filter((_one, place) => place !== at))}
          />
        ))}
        {others.length > 0 && starts.length < 10 && (
          <SelectField
            label={say('Add a button that starts')}
            value=""
            options={[
              { value: '', label: say('choose a form') },
              ...others.map((form) => ({ value: form.id, label: form.label })),
            ]}
            onChange={add}
          />
        )}
      </div>
    </SettingsGroup>
  );
}

interface StartSettingsProps {
  readonly start: Start;
  /** The form that it starts; undefined where that is gone. */
  readonly form: ListedForm | undefined;
  readonly table: TableDefinition | undefined;
  onChange(start: Start): void;
  onRemove(): void;
}

/** One button: what it says, and what the fields of the other form begin with. */
function StartSettings({ start, form, table, onChange, onRemove }: StartSettingsProps) {
  const { tables } = useOffice();
  const target = tables.get(form?.table ?? '');
  const begun = new Set(start.pairs.map((pair) => pair.to));
  const free =
    target?.fields.filter((field) => typeOf(field).editable && field.calculation === null && !begun.has(field.id)) ??
    [];
  const setPairs = (pairs: Start['pairs']): void => onChange({ ...start, pairs });
  return (
    <fieldset className={nextStepsCss.start}>
      <legend>
        {say('Starts {label}', { label: form?.label ?? say('a form that is not there any more') })}
        <IconButton aria-label={say('Remove the button {label}', { label: start.label })} onClick={onRemove}>
          <RemoveIcon />
        </IconButton>
      </legend>
      <TextControl
        key={start.label}
        label={say('The button says')}
        text={start.label}
        onSet={(label) => {
          if (label === '') throw new Error(say('A button needs words.'));
          onChange({ ...start, label });
        }}
      />
      {start.pairs.map((pair, at) => {
        const field = target?.fields.find((one) => one.id === pair.to);
        return (
          <div key={pair.to} className={nextStepsCss.pair}>
            <SelectField
              label={say('{label} begins with', { label: field?.label ?? pair.to })}
              value={pair.from}
              options={sourcesFor(table, field).map(([value, label]) => ({ value, label }))}
              onChange={(from) => setPairs(start.pairs.map((one, place) => (place === at ? { ...one, from } : one)))}
            />
            <IconButton
              aria-label={say('{label} begins blank', { label: field?.label ?? pair.to })}
              onClick={() => setPairs(start.pairs.filter((_one, place) => place !== at))}
            >
              <RemoveIcon />
            </IconButton>
          </div>
        );
      })}
      {free.length > 0 && (
        <SelectField
          label={say('Another field that begins with a value')}
          value=""
          options={[
            { value: '', label: say('choose a field') },
            ...free
              .filter((field) => sourcesFor(table, field).length > 0)
              .map((field) => ({ value: field.id, label: field.label })),
          ]}
          onChange={(to) => {
            const [first] = sourcesFor(
              table,
              target?.fields.find((one) => one.id === to),
            );
            if (first) setPairs([...start.pairs, { from: first[0], to }]);
          }}
        />
      )}
      {start.pairs.length === 0 && <p className={textCss.faded}>{say('It starts a blank card.')}</p>}
    </fieldset>
  );
}

/** What a field of the other form can begin with: the record itself for a link to it, and fields that hold the same. */
function sourcesFor(
  table: TableDefinition | undefined,
  field: TableDefinition['fields'][number] | undefined,
): [from: string, label: string][] {
  if (!table || !field) return [];
  const self: [string, string][] =
    linksOne(field) && targetTable(field) === table.id ? [[SELF, say('this record')]] : [];
  const same = table.fields.filter(
    (one) =>
      targetTable(one) === targetTable(field) &&
      !isNumbered(one) &&
      (one.type === field.type || (targetTable(one) === undefined && typeOf(one).family === typeOf(field).family)),
  );
  return [...self, ...same.map((one): [string, string] => [one.id, one.label])];
}
