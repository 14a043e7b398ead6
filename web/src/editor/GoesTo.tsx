import { fittingFields, homeOf } from '@fiche/core/destinations';
import type { PreparedField } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import RemoveIcon from '@mui/icons-material/Close';
import IconButton from '@mui/material/IconButton';
import { useOffice } from '../client/index.ts';
import { SelectField } from '../parts/index.ts';
import { placeWords } from './DestinationSettings.tsx';
import destinationsCss from './destinations.module.css';
import type { FieldSettingsProps } from './fieldSettingsProps.ts';
import { SettingsGroup } from './SettingsGroup.tsx';

/** Where the value of a field goes, in a form that writes to several tables: its own place, and others that it fits. */
export function GoesTo({ definition, field, onChange }: FieldSettingsProps & { readonly field: PreparedField }) {
  const { tables } = useOffice();
  const { destinations } = definition;
  if (!destinations) return null;
  const home = homeOf(definition, field.id);
  const copies = destinations.copies.filter((one) => one.from === field.id);
  const set = (next: typeof copies): void =>
    onChange({
      ...definition,
      destinations: {
        ...destinations,
        copies: [...destinations.copies.filter((one) => one.from !== field.id), ...next],
      },
    });
  const free = fittingFields(definition, field.field, tables).filter(
    ({ of, field: to }) => of !== home.part && !destinations.copies.some((one) => one.of === of && one.to === to.id),
  );
  const words = (of: string, to: string): string => placeWords(definition, tables, { part: of, field: to });
  return (
    <SettingsGroup title={say('Goes to')} about={say('Into which record its value is written.')}>
      <p className={destinationsCss.line}>{words(home.part, home.field)}</p>
      {copies.map((one) => (
        <p key={`${one.of} ${one.to}`} className={destinationsCss.line}>
          {say('and {of}', { of: words(one.of, one.to) })}
          <IconButton
            aria-label={say('No longer to {of}', { of: words(one.of, one.to) })}
            onClick={() => set(copies.filter((other) => other !== one))}
          >
            <RemoveIcon />
          </IconButton>
        </p>
      ))}
      {free.length > 0 && (
        <SelectField
          label={say('Also goes to')}
          value=""
          options={[
            { value: '', label: say('nothing else') },
            ...free.map(({ of, field: to }) => ({ value: `${of} ${to.id}`, label: words(of, to.id) })),
          ]}
          onChange={(value) => {
            const to = free.find((one) => `${one.of} ${one.field.id}` === value);
            if (to) set([...copies, { from: field.id, of: to.of, to: to.field.id } as (typeof copies)[number]]);
          }}
        />
      )}
    </SettingsGroup>
  );
}
