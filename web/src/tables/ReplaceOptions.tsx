import type { ChangePlan } from '@fiche/core/changes';
import type { Operator } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import type { FieldDefinition, TableDefinition } from '@fiche/core/tables';
import { typeOf } from '@fiche/core/tables';
import { plainListing } from '@fiche/core/views';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { ChangeProgress, useChangeWork } from '../changes/index.ts';
import { SelectField, settingsCss, textCss } from '../parts/index.ts';
import { WhereUsed } from '../uses/index.ts';

interface Props {
  readonly table: TableDefinition;
  readonly field: FieldDefinition;
  /** The options that are to go. */
  readonly removed: readonly string[];
  /** Those that stay. */
  readonly kept: readonly string[];
}

/** Offers, for each option that is to go and that records hold, another one to take its place in them. */
export function ReplaceOptions({ table, field, removed, kept }: Props) {
  return (
    <>
      {removed.map((option) => (
        <ReplaceOption key={option} {...{ table, field, option, kept }} />
      ))}
    </>
  );
}

function ReplaceOption({ table, field, option, kept }: Omit<Props, 'removed'> & { readonly option: string }) {
  const [to, setTo] = useState('');
  const work = useChangeWork(table.id, {
    writesAtOnce: ({ counts }) => counts?.refused === 0 && counts.change > 0,
    onWritten: () => undefined,
  });
  const begin = (reasons: ChangePlan['reasons'] = {}): void =>
    void work.check(planOf(table, field, option, to, reasons));
  return (
    <section className={settingsCss.group} aria-label={say('Replace {option}', { option })}>
      <SelectField
        label={say('Records that hold “{option}” get', { option })}
        value={to}
        options={[{ value: '', label: say('choose another') }, ...kept.map((one) => ({ value: one, label: one }))]}
        onChange={setTo}
      />
      <p>
        <Button disabled={to === '' || work.following !== undefined} onClick={() => begin()}>
          {say('Replace it in the records')}
        </Button>{' '}
        <span className={textCss.faded}>{say('One change, which can be put back.')}</span>
      </p>
      <ChangeProgress
        {...{ table, work }}
        reasons={{}}
        verb={say('Replace in')}
        done={say('replaced')}
        onReasons={begin}
      />
      <WhereUsed thing={{ table: table.id, field: field.id, option }} holding={say('hold “{option}”', { option })} />
    </section>
  );
}

/** All records in use that hold an option, with another in its place. */
function planOf(
  table: TableDefinition,
  field: FieldDefinition,
  from: string,
  to: string,
  reasons: ChangePlan['reasons'],
): ChangePlan {
  const operator: Operator = typeOf(field).family === 'choices' ? 'has' : 'is';
  const holds = {
    kind: 'compare' as const,
    left: { kind: 'column' as const, path: field.id },
    operator,
    right: { kind: 'constant' as const, value: from },
  };
  return {
    what: { kind: 'set', set: [{ field: field.id, becomes: { kind: 'replace', from, to } }] },
    records: {
      kind: 'all',
      listing: { ...plainListing(table), filter: { kind: 'group', match: 'all', of: [holds] } },
      search: '',
      archived: 'no',
      except: [],
    },
    reasons,
  };
}
