import {
  type Destination,
  DOES,
  type Does,
  doesWords,
  fieldOfDestination,
  homeOf,
  OWN,
  partLabel,
  SEVERAL,
  type Several,
  withoutDestination,
} from '@fiche/core/destinations';
import { holdsFiles } from '@fiche/core/fields';
import { type DefinedForm, formFields, isField, isSubform, placeField } from '@fiche/core/forms';
import { say, sayCount } from '@fiche/core/languages';
import { type FieldDefinition, isGiven, type Tables } from '@fiche/core/tables';
import RemoveIcon from '@mui/icons-material/Close';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useOffice } from '../client/index.ts';
import { SelectField, sayWith, textCss } from '../parts/index.ts';
import destinationsCss from './destinations.module.css';
import { freshItemId } from './edit.ts';

const DOES_LABELS: Readonly<Record<Does, string>> = {
  add: say('adds a record each time'),
  findOrAdd: say('finds a record, or adds one'),
  findAndChange: say('finds a record and changes it'),
};

const SEVERAL_LABELS: Readonly<Record<Several, string>> = {
  refuse: say('the entry is refused'),
  newest: say('the newest is taken'),
  ask: say('a person chooses one'),
};

interface PartProps {
  readonly definition: DefinedForm;
  readonly one: Destination;
  onChange(definition: DefinedForm): void;
}

/** One of the other tables: what is done with it, what its records are found by, and the way to its fields. */
export function DestinationPart({ definition, one, onChange }: PartProps) {
  const { tables } = useOffice();
  const table = tables.get(one.table);
  const label = partLabel(definition, one.id, tables);
  const change = (next: Partial<Destination>): void =>
    onChange({
      ...definition,
      destinations: definition.destinations && {
        ...definition.destinations,
        of: definition.destinations.of.map((other) => (other.id === one.id ? { ...one, ...next } : other)),
      },
    });
  const missing = (table?.fields ?? []).filter((field) => canBePlaced(definition, one.id, field));
  return (
    <fieldset className={destinationsCss.part}>
      <legend>
        {label}
        <IconButton
          aria-label={say('Do not write to {label}', { label })}
          onClick={() => onChange(withoutPart(definition, one.id))}
        >
          <RemoveIcon />
        </IconButton>
      </legend>
      <SelectField
        label={say('What it does')}
        value={one.does}
        options={DOES.map((does) => ({ value: does, label: DOES_LABELS[does] }))}
        onChange={(does) => change({ does: DOES.find((known) => known === does) ?? 'add' })}
      />
      {one.does !== 'add' && table && <Keys one={one} fields={table.fields} onChange={change} />}
      {one.does === 'findAndChange' && (
        <SelectField
          label={say('What changes in a record that is found')}
          value={one.over}
          options={[
            { value: 'blanks', label: say('its blank fields are filled') },
            { value: 'replace', label: say('all that is entered is written') },
          ]}
          onChange={(over) => change({ over: over === 'replace' ? 'replace' : 'blanks' })}
        />
      )}
      {one.does !== 'add' && (
        <SelectField
          label={say('Where several are found')}
          value={one.several}
          options={SEVERAL.map((several) => ({ value: several, label: SEVERAL_LABELS[several] }))}
          onChange={(several) => change({ several: SEVERAL.find((known) => known === several) ?? 'refuse' })}
        />
      )}
      <p className={textCss.faded}>
        {sayWith('It {one}.{does}', {
          one: doesWords(one, tables),
          does:
            one.does !== 'add' &&
            one.several === 'ask' &&
            ` ${say('Whoever saves chooses among the records that they see; a public answer waits under Held answers for the office.')}`,
        })}
      </p>
      {missing.length > 0 && (
        <Button variant="text" onClick={() => onChange(withFields(definition, one, missing, tables))}>
          {say('Put {count} on the form', { count: sayCount(missing.length, 'its field', 'its {count} fields') })}
        </Button>
      )}
    </fieldset>
  );
}

/** What a record is found by: one field, or several together. */
function Keys({
  one,
  fields,
  onChange,
}: {
  readonly one: Destination;
  readonly fields: readonly FieldDefinition[];
  onChange(next: Partial<Destination>): void;
}) {
  const free = fields.filter((field) => !isGiven(field) && !holdsFiles(field) && !one.key.includes(field.id));
  return (
    <>
      {one.key.map((id) => (
        <p key={id} className={destinationsCss.line}>
          <span>
            {sayWith('Found by {name}', {
              name: <strong>{fields.find((field) => field.id === id)?.label ?? id}</strong>,
            })}
          </span>
          <IconButton
            aria-label={say('Do not find by {label}', { label: fields.find((field) => field.id === id)?.label ?? id })}
            onClick={() => onChange({ key: one.key.filter((other) => other !== id) })}
          >
            <RemoveIcon />
          </IconButton>
        </p>
      ))}
      <SelectField
        label={one.key.length === 0 ? say('Found by') : say('and by')}
        value=""
        options={[
          { value: '', label: one.key.length === 0 ? say('choose a field') : say('nothing else') },
          ...free.map((field) => ({ value: field.id, label: field.label })),
        ]}
        onChange={(id) => {
          const field = free.find((other) => other.id === id);
          if (field) onChange({ key: [...one.key, field.id] });
        }}
      />
    </>
  );
}

/** Whether a field of a destination can still be put on the form: nothing else gives its value. */
function canBePlaced(definition: DefinedForm, part: string, field: FieldDefinition): boolean {
  const { links = [], copies = [] } = definition.destinations ?? {};
  return (
    !isGiven(field) &&
    !holdsFiles(field) &&
    !links.some((one) => one.of === part && one.field === field.id) &&
    !copies.some((one) => one.of === part && one.to === field.id) &&
    !formFields(definition).some((one) => one.field === fieldOfDestination(part, field.id))
  );
}

/** The form with fields of a destination in a section of their own. */
function withFields(
  definition: DefinedForm,
  { id }: Destination,
  fields: readonly FieldDefinition[],
  tables: Tables,
): DefinedForm {
  const items = fields.map((field) => placeField({ ...field, id: fieldOfDestination(id, field.id) }));
  const section = {
    id: freshItemId(definition, 'section'),
    label: partLabel(definition, id, tables),
    columns: 3,
    shownWhen: null,
    items,
  };
  return { ...definition, sections: [...definition.sections, section] };
}

/** The form without a destination, and without its fields. */
function withoutPart(definition: DefinedForm, part: string): DefinedForm {
  const isOther = (id: string): boolean => homeOf(definition, id).part !== part || part === OWN;
  return {
    ...definition,
    destinations: withoutDestination(definition, part),
    sections: definition.sections.map((section) => ({
      ...section,
      items: section.items.filter((item) =>
        isField(item) ? isOther(item.field) : !isSubform(item) || item.of !== part,
      ),
    })),
  };
}
