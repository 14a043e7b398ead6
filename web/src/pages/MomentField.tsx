import { fieldType } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { TextControl } from '../tables/index.ts';

interface MomentFieldProps {
  readonly label: string;
  /** `2026-08-17T15:30` or, for a day, `2026-08-17`; null for none. */
  readonly value: string | null;
  readonly day?: boolean;
  /** What a blank one means. */
  readonly none: string;
  onSet(value: string | null): void;
}

/** A moment, or a day, of the office’s time: typed as anywhere else in the application. */
export function MomentField({ label, value, day = false, none, onSet }: MomentFieldProps) {
  const type = fieldType(day ? 'date' : 'dateTime');
  return (
    <TextControl
      key={value ?? 'none'}
      label={label}
      text={value === null ? '' : type.format(value, {})}
      none={none}
      hint={day ? say('A date') : say('A date and a time')}
      onSet={(text) => {
        const read = type.parse(text, {});
        if (!read.ok) throw new Error(read.message);
        onSet(typeof read.value === 'string' ? read.value : null);
      }}
    />
  );
}
