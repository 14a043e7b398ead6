import { mapOperands } from '../conditions/index.ts';
import { say } from '../languages/index.ts';
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
  const words = say('the ripple {label}', { label: ripple.label });
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
      name === '' ? [] : [ofField(place, say('the title of its records'), table.id, name)],
    ),
    ...table.card.map((path) => ({ place, words: say('its reference card'), table: table.id, path })),
    ...table.constraints.flatMap((one) =>
      constraintFields(one).map((field) => ofField(place, say('a rule of the database'), table.id, field)),
    ),
    ...ofRules(place, table.rules, bases, tables),
    ...(table.ripples ?? []).flatMap((ripple) => ofRipple(place, ripple, table, tables)),
    ...table.fields.flatMap((field): Reading[] => {
      const target = targetTable(field);
      const level = field.settings.level as { table: TableId; column: string } | undefined;
      const { initial } = field;
      return [
        ...(target === undefined
          ? []
          : [{ place, words: say('the link {label}', { label: field.label }), table: target }]),
        ...(level
          ? [
              { place, words: say('the choices of {label}', { label: field.label }), table: level.table },
              ofField(place, say('the choices of {label}', { label: field.label }), level.table, level.column),
            ]
          : []),
        ...readingsOfCondition(place, say('what narrows {label}', { label: field.label }), field.narrowing, {
          ...bases,
          column: target,
        }),
        ...readingsOfExpression(
          place,
          say('the calculation of {label}', { label: field.label }),
          field.calculation,
          tables,
          bases,
        ),
        ...(initial?.kind === 'calculation'
          ? readingsOfExpression(
              place,
              say('the default of {label}', { label: field.label }),
              initial.source,
              tables,
              bases,
            )
          : initial?.kind === 'value'
            ? [
                {
                  ...ofField(place, say('the default of {label}', { label: field.label }), table.id, field.id),
                  constant: initial.value,
                },
              ]
            : []),
      ];
    }),
  ];
}
