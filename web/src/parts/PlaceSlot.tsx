import { say } from '@fiche/core/languages';
import { useState } from 'react';
import type { SlotOption } from './SearchList.tsx';
import { Sentence } from './Sentence.tsx';

interface PlaceSlotProps {
  /** What can be put into the text, each with what stands in braces for it. */
  readonly options: readonly SlotOption[];
  readonly label?: string;
  onPut(place: string): void;
}

/** Offers values of a record that a text can name: one is put into the text by a press. */
export function PlaceSlot({ options, label = say('value to put into the text'), onPut }: PlaceSlotProps) {
  // Another key after each press: the slot has no value of its own.
  const [put, setPut] = useState(0);
  return (
    <Sentence
      parts={[
        {
          key: `place ${put}`,
          label,
          shown: say('+ A value of the record'),
          quiet: true,
          pick: { kind: 'options', options },
          onSet: (place) => {
            setPut(put + 1);
            onPut(place);
          },
        },
      ]}
    />
  );
}
