import {
  type Destinations,
  fittingLinks,
  homeOf,
  OWN,
  partLabel,
  tableOfPart,
  withDestination,
} from '@fiche/core/destinations';
import { type DefinedForm, formFields, isField, type PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { findField, type Tables } from '@fiche/core/tables';
import RemoveIcon from '@mui/icons-material/Close';
import IconButton from '@mui/material/IconButton';
import { useOffice } from '../client/index.ts';
import { SelectField, sayWith, settingsCss, textCss } from '../parts/index.ts';
import { DestinationPart } from './DestinationPart.tsx';
import destinationsCss from './destinations.module.css';
import { SettingsGroup } from './SettingsGroup.tsx';

interface Props {
  readonly definition: DefinedForm;
  readonly prepared: PreparedForm;
  onChange(definition: DefinedForm): void;
}

const MOST = 10;

/** The tables that the form writes to besides its own: what is done with each, how the records are linked, what goes where. */
export function DestinationSettings({ definition, prepared, onChange }: Props) {
  const { tables, cabinet } = useOffice();
  const { destinations } = definition;
  const others = cabinet.tables.filter((one) => one.kind === 'records' && !one.archived);
  const set = (next: Destinations | null): void => onChange({ ...definition, destinations: next });
  const add = (id: string): void => {
    const table = tables.get(id);
    if (table) onChange(withoutLinked({ ...definition, destinations: withDestination(definition, table, tables) }));
  };
  return (
    <SettingsGroup
      title={say('Also writes to')}
      about={say('One entry adds or finds records of several tables: all of them, or none.')}
    >
      <div className={settingsCss.form}>
        {destinations?.of.map((one) => (
          <DestinationPart key={one.id} {...{ definition, one, onChange }} />
        ))}
        {destinations && <Links definition={definition} destinations={destinations} set={set} />}
        {(destinations?.of.length ?? 0) < MOST && (
          <SelectField
            label={say('Write to another table')}
            value=""
            options={[
              { value: '', label: say('choose a table') },
              ...others.map((one) => ({ value: one.id, label: one.label })),
            ]}
            onChange={add}
          />
        )}
        {destinations && <WhatGoesWhere definition={definition} prepared={prepared} set={set} />}
      </div>
    </SettingsGroup>
  );
}

interface LinksProps {
  readonly definition: DefinedForm;
  readonly destinations: Destinations;
  set(destinations: Destinations): void;
}

/** Which record points at which, and links that could. */
function Links({ definition, destinations, set }: LinksProps) {
  const { tables } = useOffice();
  const words = ({ of, field, to }: { readonly of: string; readonly field: string; readonly to: string }): string =>
    say('{label} of {definition} points at the record of {other}', {
      label: findField(tables.get(tableOfPart(definition, of)), field)?.label ?? field,
      definition: partLabel(definition, of, tables),
      other: partLabel(definition, to, tables),
    });
  const free = fittingLinks(definition, tables)
    .map(({ of, field, to }) => ({ of, field: field.id, to }))
    .filter((one) => !destinations.links.some((other) => other.of === one.of && other.field === one.field));
  return (
    <section aria-label={say('Links between the records')}>
      <h4>{say('Links between the records')}</h4>
      {destinations.links.length === 0 && free.length === 0 && (
        <p className={textCss.faded}>{say('None of these tables links to another.')}</p>
      )}
      {destinations.links.map((one) => (
        <p key={`${one.of} ${one.field}`} className={destinationsCss.line}>
          {words(one)}
          <IconButton
            aria-label={say('Remove the link: {one}', { one: words(one) })}
            onClick={() => set({ ...destinations, links: destinations.links.filter((other) => other !== one) })}
          >
            <RemoveIcon />
          </IconButton>
        </p>
      ))}
      {free.length > 0 && (
        <SelectField
          label={say('Add a link')}
          value=""
          options={[
            { value: '', label: say('choose a link') },
            ...free.map((one) => ({ value: JSON.stringify(one), label: words(one) })),
          ]}
          onChange={(value) => {
            const link = free.find((one) => JSON.stringify(one) === value);
            if (link) set({ ...destinations, links: [...destinations.links, link] });
          }}
        />
      )}
    </section>
  );
}

/** Every field of the form with the record and the field that it goes to. */
function WhatGoesWhere({
  definition,
  prepared,
  set,
}: Pick<Props, 'definition' | 'prepared'> & { set(destinations: Destinations): void }) {
  const { tables } = useOffice();
  const { destinations } = definition;
  if (!destinations) return null;
  const fields = formFields(definition).flatMap((one) => prepared.fields.get(one.field) ?? []);
  return (
    <section aria-label={say('What goes where')}>
      <h4>{say('What goes where')}</h4>
      <ul className={destinationsCss.list}>
        {fields.map((field) => (
          <li key={field.id}>
            {sayWith('{name} goes to {definition}', {
              name: <em>{field.label}</em>,
              definition: placeWords(definition, tables, homeOf(definition, field.id)),
            })}
            {destinations.copies
              .filter((copy) => copy.from === field.id)
              .map((copy) => (
                <span key={`${copy.of} ${copy.to}`}>
                  {say(', and to {definition}', {
                    definition: placeWords(definition, tables, { part: copy.of, field: copy.to }),
                  })}
                  <IconButton
                    aria-label={say('{label} goes no longer to {definition}', {
                      label: field.label,
                      definition: placeWords(definition, tables, { part: copy.of, field: copy.to }),
                    })}
                    onClick={() =>
                      set({ ...destinations, copies: destinations.copies.filter((other) => other !== copy) })
                    }
                  >
                    <RemoveIcon />
                  </IconButton>
                </span>
              ))}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** `Owners › E-mail, which finds the record`. */
export function placeWords(
  definition: DefinedForm,
  tables: Tables,
  { part, field }: { readonly part: string; readonly field: string },
): string {
  const table = tables.get(tableOfPart(definition, part));
  const destination = definition.destinations?.of.find((one) => one.id === part);
  const finds = destination && destination.does !== 'add' && destination.key.some((one) => one === field);
  return `${partLabel(definition, part, tables)} › ${findField(table, field)?.label ?? field}${finds ? say(', which finds the record') : ''}`;
}

/** The form without fields of its own that the form sets itself, as links to the records that it writes. */
function withoutLinked(definition: DefinedForm): DefinedForm {
  const set = new Set(
    (definition.destinations?.links ?? []).flatMap((one) => (one.of === OWN ? [one.field as string] : [])),
  );
  return {
    ...definition,
    sections: definition.sections.map((section) => ({
      ...section,
      items: section.items.filter((item) => !isField(item) || !set.has(item.field)),
    })),
  };
}
