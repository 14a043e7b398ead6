import { formatCount } from '@fiche/core/office';
import { type Constraint, constraintWords, findField, type TableDefinition, typeOf } from '@fiche/core/tables';
import { useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { Sentence, type Slot, useSay } from '../parts/index.ts';
import { TableRules } from './TableRules.tsx';
import { type BrokenRecord, Trial } from './Trial.tsx';
import { useTableWork } from './useTableWork.tsx';

/** The rules that the database itself holds over several fields of a table, on every path. */
export function RulesTab({ table }: { table: TableDefinition }) {
  const { change, progress } = useTableWork();
  const labelOf = (id: string): string => findField(table, id)?.label ?? id;
  const base = `/api/tables/${table.id}/constraints`;
  return (
    <>
      <p className="faded" style={{ maxWidth: 760 }}>
        These rules are held by the database itself: on forms, public pages, imports and in SQL alike. Checks of one
        field stand with the field.
      </p>
      {progress}
      {table.constraints.length === 0 ? (
        <p className="empty list-card">
          <strong>No rules over several fields yet.</strong> Make one below, such as “no two stays with the same berth
          overlap”.
        </p>
      ) : (
        <div className="list-card">
          <table className="list">
            <thead>
              <tr>
                <th scope="col">Rule</th>
                <th scope="col">Message</th>
                <th scope="col">
                  <span className="visually-hidden">Act</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {table.constraints.map((one) => (
                <tr key={one.id}>
                  <td>{constraintWords(one, labelOf)}.</td>
                  <td className="faded">{one.message}</td>
                  <td>
                    <button
                      type="button"
                      className="link"
                      onClick={() => void change('DELETE', `${base}/${one.id}`, {})}
                      aria-label={`Take away: ${constraintWords(one, labelOf)}`}
                    >
                      Take away
                    </button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <NewConstraint
        table={table}
        onAdd={(constraint) => change('POST', base, { constraint, revision: table.revision })}
      />
      <section aria-label="Rules that compare" className="new-rule">
        <h2>Rules that compare</h2>
        <p className="faded">
          Of a record’s own fields and those that it links to; held on every form, page and import.
        </p>
        <TableRules table={table} />
      </section>
    </>
  );
}

const RANGES = ['date', 'dateTime', 'number'];

function NewConstraint({ table, onAdd }: { table: TableDefinition; onAdd(constraint: Constraint): Promise<boolean> }) {
  const { cabinet } = useOffice();
  const say = useSay();
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
    '; else say: ',
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
      say((error as Error).message);
    }
  };
  const ready = message !== '' && (kind === 'unique' ? fields.length >= 2 : from !== '' && to !== '');
  return (
    <section aria-label="A new rule" className="new-rule">
      <h2>A new rule</h2>
      <Sentence parts={parts} />
      {broken && (
        <Trial
          heading={`${formatCount(broken.breaks)} ${broken.breaks === 1 ? 'record breaks' : 'records break'} this already. Mend them first.`}
          path={`/${cabinet.id}/tables/${table.id}`}
          breaks={broken.breaks}
          examples={broken.examples}
        >
          <button type="button" className="button plain" onClick={() => void add()}>
            Look again
          </button>
        </Trial>
      )}
      <button type="button" className="button" disabled={!ready} onClick={() => void add()}>
        Hold this rule
      </button>
    </section>
  );
}
