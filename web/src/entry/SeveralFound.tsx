import type { SeveralRecords } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import type { RecordId } from '@fiche/core/tables';
import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import { useEffect, useId, useRef, useState } from 'react';
import { textCss } from '../parts/index.ts';
import severalFoundCss from './severalFound.module.css';

interface Props {
  readonly several: SeveralRecords;
  /** What is done once one is chosen: `save`. */
  readonly then: string;
  onChosen(record: RecordId): void;
}

/** Records that have the same key, of which a person chooses the one that is meant before saving again. */
export function SeveralFound({ several, then, onChosen }: Props) {
  const { label, records } = several;
  const [chosen, setChosen] = useState<{ readonly of: SeveralRecords; readonly record: RecordId }>();
  const heading = useId();
  const section = useRef<HTMLElement>(null);
  // A save was refused to ask this: the keyboard goes on here.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each question.
  useEffect(() => {
    section.current?.querySelector('input')?.focus({ preventScroll: true });
    section.current?.scrollIntoView({ block: 'nearest' });
  }, [several]);
  return (
    <section ref={section} className={severalFoundCss.several} aria-labelledby={heading}>
      <h2 id={heading}>
        {sayCount(
          records.length,
          'Several records of {label} are found, and you see one of them. If it is the one that is meant, choose it and {act}.',
          '{count} records of {label} are found. Choose the one that is meant, then {act}.',
          { label, act: then },
        )}
      </h2>
      <RadioGroup
        aria-labelledby={heading}
        value={chosen?.of === several ? String(chosen.record) : ''}
        onChange={(_event, id) => {
          const record = records.find((one) => String(one.id) === id)?.id;
          if (record === undefined) return;
          setChosen({ of: several, record });
          onChosen(record);
        }}
      >
        {records.map(({ id, title, values }) => (
          <FormControlLabel
            key={id}
            value={String(id)}
            control={<Radio />}
            label={
              <>
                <strong>{title}</strong> <span className={textCss.faded}>{say('No. {id}', { id })}</span>
                <span className={severalFoundCss.values}>
                  {values.map((one) => `${one.label} ${one.value}`).join(', ')}
                </span>
              </>
            }
          />
        ))}
      </RadioGroup>
    </section>
  );
}
