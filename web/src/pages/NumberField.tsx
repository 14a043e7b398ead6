import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import { MOST_ANSWERS } from '@fiche/core/pages';
import { TextControl } from '../tables/index.ts';

interface NumberFieldProps {
  readonly label: string;
  readonly value: number | undefined;
  readonly none: string;
  onSet(value: number | undefined): void;
}

/** A limit as a whole number; blank for none. */
export function NumberField({ label, value, none, onSet }: NumberFieldProps) {
  return (
    <TextControl
      key={value ?? 'none'}
      label={label}
      text={value === undefined ? '' : String(value)}
      none={none}
      onSet={(text) => {
        if (text === '') return onSet(undefined);
        const typed = Number(text.replaceAll(/[\s,.]/g, ''));
        if (!Number.isInteger(typed) || typed < 1 || typed > MOST_ANSWERS)
          throw new Error(
            say('Give a whole number from 1 to {mostAnswers}, or leave it blank.', {
              mostAnswers: formatCount(MOST_ANSWERS),
            }),
          );
        return onSet(typed);
      }}
    />
  );
}
