import { say } from '@fiche/core/languages';
import { constraintWords, findField, type TableDefinition } from '@fiche/core/tables';
import { pageCss, RemoveSentence, Sentence, textCss } from '../parts/index.ts';
import { NewConstraint } from './NewConstraint.tsx';
import rulesCss from './rules.module.css';
import { TableRules } from './TableRules.tsx';
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
        {say(
          'These rules hold on every form, public page and import of {label}. Checks of one field, such as required or at most, are set with the field.',
          { label: table.label },
        )}
      </p>
      {progress}
      <section aria-label={say('Rules between fields')}>
        <h2 className={pageCss.partTitle}>{say('Between the fields of a record')}</h2>
        <TableRules table={table} />
      </section>
      <section aria-label={say('Rules between records')}>
        <h2 className={pageCss.partTitle}>{say('Between records')}</h2>
        <p className={textCss.faded}>
          {say('Kept by the database itself, in direct SQL too, so that no existing record breaks them.')}
        </p>
        {table.constraints.map((one) => (
          <div key={one.id} className={rulesCss.row}>
            <Sentence
              parts={[`${constraintWords(one, labelOf)}.`]}
              end={
                <RemoveSentence
                  what={say('the rule {one}', { one: constraintWords(one, labelOf) })}
                  onRemove={() => void change('DELETE', `${base}/${one.id}`, {})}
                />
              }
            />
            <p className={textCss.faded}>{say('Message: “{message}”', { message: one.message })}</p>
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
