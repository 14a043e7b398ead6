import { mapOperands } from '../conditions/index.ts';
import { messagePaths } from '../ripples/index.ts';
import {
  BEFORE,
  constraintFields,
  findField,
  type Ripple,
  type RippleSource,
  type TableDefinition,
  type TableId,
  type Tables,
  targetTable,
  titleNames,
  withoutBefore,
} from '../tables/index.ts';
import { ofRules } from './ofForm.ts';
import { ofField, type Reading, readingsOfCondition, readingsOfExpression, type UsePlace } from './reading.ts';

/** What a ripple reads of the table that it follows, and writes in others. A value before the save is a value of its field. */
function ofRipple(place: UsePlace, ripple: Ripple, table: TableDefinition, tables: Tables): Reading[] {
  const words = `the ripple ${ripple.label}`;
  const own = (path: string): Reading => ({ place, words, table: table.id, path: withoutBefore(path) });
  const when = mapOperands(ripple.when, (operand) =>
    'path' in operand ? { ...operand, path: withoutBefore(operand.path) } : operand,
  );
  return [
    ...ripple.fields.map((field) => ofField(place, words, table.id, field)),
    ...(when.kind === 'group' ? readingsOfCondition(place, words, when, { form: table.id }) : []),
    ...ripple.effects.flatMap((effect): Reading[] => {
      if (effect.does === 'message')
        return [...(effect.to.kind === 'field' ? [effect.to.path] : []), ...messagePaths(effect)].map(own);
      const link = effect.does === 'change' ? effect.link : undefined;
      const target = effect.does === 'add' ? effect.table : targetTable(findField(table, withoutBefore(link ?? '')));
      return [
        ...(link === undefined ? [] : [own(link)]),
        ...(target === undefined ? [] : [{ place, words, table: target }]),
        ...effect.values.flatMap(({ to, from }): Reading[] => [
          ...(target === undefined ? [] : [{ ...ofField(place, words, target, to), ...constantOf(from) }]),
          ...(from.kind === 'field' ? [own(from.path)] : []),
          ...(from.kind === 'calculation'
            ? readingsOfExpression(place, words, from.source.replaceAll(BEFORE, ''), tables, { form: table.id })
            : []),
        ]),
      ];
    }),
  ];
}

const constantOf = (from: RippleSource): Pick<Reading, 'constant'> =>
  from.kind === 'value' && from.value !== null ? { constant: from.value } : {};

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
    ...(table.ripples ?? []).flatMap((ripple) => ofRipple(place, ripple, table, tables)),
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
