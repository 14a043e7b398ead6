import {
  constraintFields,
  type TableDefinition,
  type TableId,
  type Tables,
  targetTable,
  titleNames,
} from '../tables/index.ts';
import { ofRules } from './ofForm.ts';
import { ofField, type Reading, readingsOfCondition, readingsOfExpression, type UsePlace } from './reading.ts';

/** What the definition of a table reads of itself and of other tables. */
export function readingsOfTable(table: TableDefinition, tables: Tables): Reading[] {
  const place: UsePlace = { kind: 'table', id: table.id, label: table.label };
  const bases = { form: table.id };
  return [
    ...titleNames(table.title ?? '').flatMap((name) =>
      name === '' ? [] : [ofField(place, 'the title of its records', table.id, name)],
    ),
    ...table.card.map((path) => ({ place, words: 'its reference card', table: table.id, path })),
    ...table.constraints.flatMap((one) =>
      constraintFields(one).map((field) => ofField(place, 'a rule of the database', table.id, field)),
    ),
    ...ofRules(place, table.rules, bases, tables),
    ...table.fields.flatMap((field): Reading[] => {
      const target = targetTable(field);
      const level = field.settings.level as { table: TableId; column: string } | undefined;
      const { initial } = field;
      return [
        ...(target === undefined ? [] : [{ place, words: `the link ${field.label}`, table: target }]),
        ...(level
          ? [
              { place, words: `the choices of ${field.label}`, table: level.table },
              ofField(place, `the choices of ${field.label}`, level.table, level.column),
            ]
          : []),
        ...readingsOfCondition(place, `what narrows ${field.label}`, field.narrowing, { ...bases, column: target }),
        ...readingsOfExpression(place, `the calculation of ${field.label}`, field.calculation, tables, bases),
        ...(initial?.kind === 'calculation'
          ? readingsOfExpression(place, `the default of ${field.label}`, initial.source, tables, bases)
          : initial?.kind === 'value'
            ? [{ ...ofField(place, `the default of ${field.label}`, table.id, field.id), constant: initial.value }]
            : []),
      ];
    }),
  ];
}
