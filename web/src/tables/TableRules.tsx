import { isSeveral } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import type { Rule } from '@fiche/core/rules';
import type { TableDefinition } from '@fiche/core/tables';
import { clsx } from 'clsx';
import { useState } from 'react';
import { useOffice } from '../client/index.ts';
import { SelectField } from '../parts/index.ts';
import { NewRule, RuleSentence } from '../sentences/index.ts';
import { RuleTrial } from './RuleTrial.tsx';
import rulesCss from './rules.module.css';
import { useTableWork } from './useTableWork.tsx';

/** The rules of a table over its fields and those that it links to: they guard every path into it. */
export function TableRules({ table }: { table: TableDefinition }) {
  const { tables } = useOffice();
  const { change } = useTableWork();
  const [at, setAt] = useState('');
  const set = (rules: readonly Rule[]): void => {
    void change('PATCH', `/api/tables/${table.id}`, { rules, revision: table.revision });
  };
  const fields = table.fields.filter((one) => !isSeveral(one));
  const field = fields.find((one) => one.id === at) ?? fields[0];
  if (!field) return null;
  return (
    <>
      {table.rules.map((rule) => (
        <div key={rule.id} className={rulesCss.row}>
          <RuleSentence
            rule={rule}
            fields={table.fields}
            tables={tables}
            now={civilNow()}
            onChange={(next) => set(table.rules.map((one) => (one.id === rule.id ? next : one)))}
            onRemove={() => set(table.rules.filter((one) => one.id !== rule.id))}
          />
          <RuleTrial
            key={JSON.stringify([rule.when, rule.must])}
            url={`/api/tables/${table.id}/rule-trial`}
            rule={rule}
            table={table.id}
          />
        </div>
      ))}
      <div className={clsx(rulesCss.row, rulesCss.newRule)}>
        <SelectField
          label={say('New rule at the field')}
          value={field.id}
          options={fields.map((one) => ({ value: one.id, label: one.label }))}
          onChange={setAt}
        />
        <NewRule
          key={field.id}
          at={field}
          fields={table.fields}
          tables={tables}
          now={civilNow()}
          onAdd={(rule) => set([...table.rules, rule])}
        />
      </div>
    </>
  );
}
