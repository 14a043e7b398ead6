import { civilNow } from '@fiche/core/office';
import type { Rule } from '@fiche/core/rules';
import type { TableDefinition } from '@fiche/core/tables';
import { useOffice } from '../client/index.ts';
import { Sentence, type Slot } from '../parts/index.ts';
import { newRule, RuleSentence } from '../sentences/index.ts';
import { useTableWork } from './useTableWork.tsx';

/** The rules of a table over its fields and those that it links to: they guard every path into it. */
export function TableRules({ table }: { table: TableDefinition }) {
  const { tables } = useOffice();
  const { change } = useTableWork();
  const set = (rules: readonly Rule[]): void => {
    void change('PATCH', `/api/tables/${table.id}`, { rules, revision: table.revision });
  };
  const add = (field: string, kind: Rule['kind']): void => {
    const at = table.fields.find((one) => one.id === field);
    if (at) set([...table.rules, newRule(kind, at, table.fields, tables)]);
  };
  const fields = table.fields
    .filter((one) => !['links', 'choices'].includes(one.type))
    .map((one) => ({ value: one.id, label: one.label }));
  const fieldSlot = (kind: Rule['kind']): Slot => ({
    key: kind,
    label: `field of a new rule that ${kind === 'stop' ? 'stops' : 'asks'}`,
    shown: 'a field',
    pick: { kind: 'options', options: fields },
    onSet: (field) => add(field, kind),
  });
  if (fields.length === 0) return null;
  return (
    <>
      {table.rules.length === 0 && <p className="faded">None yet.</p>}
      {table.rules.map((rule) => (
        <RuleSentence
          key={rule.id}
          rule={rule}
          fields={table.fields}
          tables={tables}
          now={civilNow()}
          onChange={(next) => set(table.rules.map((one) => (one.id === rule.id ? next : one)))}
          onRemove={() => set(table.rules.filter((one) => one.id !== rule.id))}
        />
      ))}
      <Sentence
        parts={['Add a rule that stops at ', fieldSlot('stop'), ', or one that asks why at ', fieldSlot('ask'), '.']}
      />
    </>
  );
}
