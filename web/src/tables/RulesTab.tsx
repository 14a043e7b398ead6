import { formatCount } from '@fiche/core/office';
import { type Constraint, constraintWords, findField, type TableDefinition, typeOf } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { pageCss, RemoveSentence, Sentence, type Slot, textCss, useNotify } from '../parts/index.ts';
import rulesCss from './rules.module.css';
import { TableRules } from './TableRules.tsx';
import { type BrokenRecord, Trial } from './Trial.tsx';
import tablePageCss from './tablePage.module.css';
import { useTableWork } from './useTableWork.tsx';

/** Every rule of a table in one list, however it is enforced: between fields, and over several records. */
export function RulesTab({ table }: { table: TableDefinition }) {
  const { change, progress } = useTableWork();
  const labelOf = (id: string): string => findField(table, id)?.label ?? id;
  const base = `/api/tables/${table.id}/constraints`;
  return (
    <div className={tablePageCss.body}>
      <p className={textCss.faded}>
        These rules hold on every form, public page and import of {table.label}. Checks of one field, such as required
        or at most, are set with the field.
      </p>
      {progress}
      <section aria-label="Rules between fields">
        <h2 className={pageCss.partTitle}>Between the fields of a record</h2>
        <TableRules table={table} />
      </section>
      <section aria-label="Rules between records">
        <h2 className={pageCss.partTitle}>Between records</h2>
        <p className={textCss.faded}>Kept by the database itself, in direct SQL too, so that no existing record breaks them.</p>
        {table.constraints.map((one) => (
          <div key={one.id} className={rulesCss.row}>
            <Sentence
              parts={[`${constraintWords(one, labelOf)}.`]}
              end={
                <RemoveSentence
                  what={`the rule ${constraintWords(one, labelOf)}`}
                  onRemove={() => void change('DELETE', `${base}/${one.id}`, {})}
                />
              }
            />
            <p className={textCss.faded}>Message: “{one.message}”</p>
          </div>
        ))}
        <NewConstraint
          table={table}
          onAdd={(constraint) => change('POST', base, { constraint, revision: table.revision })}
        />
      </section>
    </div>
  );
}

const RANGES = ['date', 'dateTime', 'number'];

function NewConstraint({ table, onAdd }: { table: TableDefinition; onAdd(constraint: Constraint): Promise<boolean> }) {
  const { cabinet } = useOffice();
  const notify = useNotify();
  const comparable = table.fields.filter((field) => !['links', 'choices', 'longText'].includes(field.type));
  const ranges = comparable.filter((field) => RANGES.includes(typeOf(field).family) && field.type !== 'rating');
  const [kind, setKind] = useState<Constraint['kind']>('unique');
  const [fields, setFields] = useState<readonly string[]>([]);
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  const [message, setMessage] = useState('');
  const [broken, setBroken] = useState<{ breaks: number; examples: readonly BrokenRecord[] }>();
  if (comparable.length < 2) return null;

  const labelOf = (id: string): string => findField(table, id)?.label ?? '…';
  const pick = (
    key: string,
    label: string,
    current: string,
    among: typeof comparable,
    onSet: (id: string) => void,
  ): Slot => ({
    key,
    label,
    side: 'form',
    shown: current === '' ? 'choose a field' : labelOf(current),
    pick: {
      kind: 'options',
      options: among.map((one) => ({ value: one.id, label: one.label, detail: typeOf(one).word })),
      current,
    },
    onSet: (id) => {
      setBroken(undefined);
      onSet(id);
    },
  });
  const same = [...fields, '']
    .slice(0, 6)
    .flatMap((id, n): (string | Slot)[] => [
      ...(n === 0 ? [] : [', ']),
      pick(
        `field${n}`,
        id === '' ? 'a further field that must agree' : 'field that must agree',
        id,
        comparable,
        (chosen) => setFields([...new Set([...fields.slice(0, n), chosen, ...fields.slice(n + 1)])]),
      ),
    ]);
  const parts: (string | Slot)[] = [
    {
      key: 'kind',
      label: 'kind of rule',
      shown: kind === 'unique' ? 'No two records have' : 'No two records overlap that have',
      pick: {
        kind: 'options',
        options: [
          { value: 'unique', label: 'No two records have the same …', detail: 'unique together' },
          { value: 'noOverlap', label: 'No two records overlap', detail: 'in time or in number' },
        ],
        current: kind,
      },
      onSet: (value) => setKind(value as Constraint['kind']),
    },
    ' the same ',
    ...same,
    ...(kind === 'noOverlap'
      ? [', from ', pick('from', 'beginning', from, ranges, setFrom), ' to ', pick('to', 'end', to, ranges, setTo)]
      : []),
    '. Message: ',
    {
      key: 'message',
      label: 'message of the rule',
      shown: message || 'what is wrong and what to do',
      pick: { kind: 'text', current: message },
      onSet: setMessage,
    },
    '.',
  ];
  const draft = (): Constraint => {
    const id = `${kind === 'unique' ? 'same' : 'overlap'}_${[...fields, from].join('_')}`.toLowerCase().slice(0, 38);
    return kind === 'unique'
      ? { kind, id, fields: [...fields], message }
      : { kind, id, same: [...fields], from, to, message };
  };
  const add = async (): Promise<void> => {
    try {
      const found = await send<typeof broken & object>('POST', `/api/tables/${table.id}/trial`, {
        kind: 'constraint',
        constraint: draft(),
      });
      setBroken(found.breaks > 0 ? found : undefined);
      if (found.breaks === 0 && (await onAdd(draft()))) {
        setFields([]);
        setMessage('');
      }
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const ready = message !== '' && (kind === 'unique' ? fields.length >= 2 : from !== '' && to !== '');
  return (
    <div className={clsx(rulesCss.row, rulesCss.newRule)} role="group" aria-label="New rule between records">
      <Sentence parts={parts} />
      {broken && (
        <Trial
          heading={`${formatCount(broken.breaks)} ${broken.breaks === 1 ? 'record breaks' : 'records break'} this already. Correct them first.`}
          path={`/${cabinet.id}/tables/${table.id}`}
          breaks={broken.breaks}
          examples={broken.examples}
        >
          <Button variant="text" onClick={() => void add()}>
            Check again
          </Button>
        </Trial>
      )}
      <Button disabled={!ready} onClick={() => void add()}>
        Add rule
      </Button>
    </div>
  );
}
