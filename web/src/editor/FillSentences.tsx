import { linksOne, takesWord } from '@fiche/core/fields';
import { type Fill, misfit, proposePairs } from '@fiche/core/fills';
import type { PreparedField } from '@fiche/core/forms';
import { isGiven, typeOf } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { RemoveSentence, Sentence, type Slot } from '../parts/index.ts';
import { changeField } from './edit.ts';
import type { FieldSettingsProps } from './fieldSettingsProps.ts';
import panelCss from './panel.module.css';

const POLICIES = [
  { value: 'replace', label: 'replacing what is there' },
  { value: 'keep', label: 'keeping what is there' },
  { value: 'ask', label: 'asking when something is there' },
];
const WHEN_NONE = [
  { value: 'message', label: 'say so' },
  { value: 'offer', label: 'say so, and offer to add it' },
  { value: 'refuse', label: 'refuse to save' },
  { value: 'nothing', label: 'do nothing' },
];

/** Whether a field can find a record to fill from: a link by choosing, plain text, numbers and dates by a typed key. */
export const canFill = ({ field, readOnly }: PreparedField): boolean =>
  !readOnly && (linksOne(field) || (!takesWord(field) && ['text', 'number', 'date'].includes(typeOf(field).family)));

/** "Choosing a Vessel fills Length with its Length": what choosing, or typing a key, copies into other fields. */
export function FillSentences({ definition, prepared, field, onChange }: FieldSettingsProps) {
  const isLink = linksOne(field.field);
  const { fill } = field;
  const set = (next: Fill | null): void => onChange(changeField(definition, field.id, { fill: next }));
  const targets = [...prepared.fields.values()]
    .filter((one) => one.placed && one.id !== field.id && !isGiven(one.field) && !one.calculation)
    .map((one) => ({ ...one.field, label: one.label }));
  const sources = [...prepared.tables.values()].filter((table) =>
    table.fields.some((column) => typeOf(column).family === typeOf(field.field).family),
  );
  const begin = (table: string, key: string | null): void => {
    const parents = prepared.wiring.edges.flatMap((edge) =>
      edge.kind === 'narrows' && edge.to === field.id ? [edge.from] : [],
    );
    // What narrows this field follows its choice anyway: a fill back into it would go in a circle.
    const same = proposePairs(
      prepared.tables,
      table,
      targets.filter((target) => !parents.includes(target.id)),
    );
    const self =
      key === null
        ? []
        : targets
            .filter((target) => linksOne(target) && target.settings.table === table)
            .slice(0, 1)
            .map((target) => ({ from: 'self', to: target.id, policy: 'replace' as const }));
    set({ table, key, pairs: [...self, ...same], whenNone: 'message' });
  };
  if (!fill) {
    if (isLink)
      return (
        <Button variant="text" onClick={() => begin(String(field.field.settings.table), null)}>
          Fill other fields from the chosen record
        </Button>
      );
    const start: Slot = {
      key: 'table',
      label: 'table to look in',
      side: 'choices',
      shown: 'a table',
      onSet: (id) => {
        const table = prepared.tables.get(id);
        const key =
          table?.fields.find((column) => column.label.toLowerCase() === field.field.label.toLowerCase()) ??
          table?.fields.find((column) => column.unique) ??
          table?.fields[0];
        if (key) begin(id, key.id);
      },
      pick: { kind: 'options', options: sources.map((table) => ({ value: table.id, label: table.label })) },
    };
    return <Sentence parts={['On leaving the field, look its value up in ', start, ' to fill other fields.']} />;
  }

  const table = prepared.tables.get(fill.table);
  const pairAt = (n: number, change: Partial<Fill['pairs'][number]> | undefined): void =>
    set({
      ...fill,
      pairs: change
        ? fill.pairs.map((pair, at) => (at === n ? { ...pair, ...change } : pair))
        : fill.pairs.filter((_pair, at) => at !== n),
    });
  const columnsFor = (to: string) => {
    const target = targets.find((one) => one.id === to);
    const fits = (from: string): boolean =>
      target !== undefined && misfit(prepared.tables, fill.table, from, target) === undefined;
    const own = (table?.fields ?? []).flatMap((column) => {
      const next = linksOne(column) ? prepared.tables.get(String(column.settings.table)) : undefined;
      return [
        { value: column.id, label: column.label, detail: `of ${table?.label}` },
        ...(next?.fields ?? []).map((far) => ({
          value: `${column.id}.${far.id}`,
          label: `${column.label} › ${far.label}`,
          detail: `of ${next?.label}`,
        })),
      ];
    });
    return [{ value: 'self', label: `the ${table?.label} record itself`, detail: '' }, ...own].filter((one) =>
      fits(one.value),
    );
  };
  const nameOf = (from: string): string =>
    from === 'self'
      ? `the record itself`
      : (columnsFor(fill.pairs.find((pair) => pair.from === from)?.to ?? '').find((one) => one.value === from)?.label ??
        from);
  const free = targets.filter(
    (target) => !fill.pairs.some((pair) => pair.to === target.id) && columnsFor(target.id).length > 0,
  );
  const key: Slot = {
    key: 'key',
    label: `key column of ${table?.label}`,
    side: 'choices',
    shown: table?.fields.find((one) => one.id === fill.key)?.label ?? '',
    pick: {
      kind: 'options',
      current: fill.key ?? '',
      options: (table?.fields ?? [])
        .filter((one) => typeOf(one).family === typeOf(field.field).family)
        .map((one) => ({ value: one.id, label: one.label })),
    },
    onSet: (id) => set({ ...fill, key: id }),
  };
  const none: Slot = {
    key: 'none',
    label: 'what happens when no record is found',
    shown: WHEN_NONE.find((one) => one.value === fill.whenNone)?.label ?? '',
    pick: { kind: 'options', options: WHEN_NONE, current: fill.whenNone },
    onSet: (value) => set({ ...fill, whenNone: value as Fill['whenNone'] }),
  };
  /** The column that is meant most likely: one whose label the field’s label ends with, as *Nightly rate* with *Rate*. */
  const likelyColumn = (to: string) => {
    const label = (targets.find((one) => one.id === to)?.label ?? '').toLowerCase();
    const columns = columnsFor(to);
    return columns.find((one) => label.endsWith(one.label.toLowerCase())) ?? columns[0];
  };
  const addPair: Slot = {
    key: 'add',
    label: 'further field to fill',
    shown: 'another field',
    pick: { kind: 'options', options: free.map((one) => ({ value: one.id, label: one.label })) },
    onSet: (to) => {
      const from =
        proposePairs(
          prepared.tables,
          fill.table,
          targets.filter((one) => one.id === to),
        )[0]?.from ?? likelyColumn(to)?.value;
      if (from) set({ ...fill, pairs: [...fill.pairs, { from, to, policy: 'replace' }] });
    },
  };
  return (
    <>
      <Sentence
        parts={
          fill.key === null
            ? [`Choosing one fills`, fill.pairs.length === 0 ? ' nothing yet.' : ':']
            : [
                'On leaving the field, the record of ',
                table?.label ?? '',
                ' whose ',
                key,
                ' it is fills',
                fill.pairs.length === 0 ? ' nothing yet' : '',
                '; when there is none, ',
                none,
                '.',
              ]
        }
        end={<RemoveSentence what="what this field fills" onRemove={() => set(null)} />}
      />
      <ul className={panelCss.pairs}>
        {fill.pairs.map((pair, n) => (
          <li key={pair.to}>
            <Sentence
              parts={[
                prepared.enclosure ? 'this line’s ' : 'this form’s ',
                {
                  key: 'to',
                  label: 'field of this form',
                  side: 'form',
                  shown: targets.find((one) => one.id === pair.to)?.label ?? pair.to,
                  pick: {
                    kind: 'options',
                    current: pair.to,
                    options: [...free, ...targets.filter((one) => one.id === pair.to)].map((one) => ({
                      value: one.id,
                      label: one.label,
                    })),
                  },
                  onSet: (to) =>
                    pairAt(n, {
                      to,
                      from: columnsFor(to).some((one) => one.value === pair.from)
                        ? pair.from
                        : (likelyColumn(to)?.value ?? pair.from),
                    }),
                },
                pair.from === 'self' ? ' with ' : ' with its ',
                {
                  key: 'from',
                  label: `column of ${table?.label}`,
                  side: 'choices',
                  shown: nameOf(pair.from),
                  pick: { kind: 'options', current: pair.from, options: columnsFor(pair.to) },
                  onSet: (from) => pairAt(n, { from }),
                },
                ', ',
                {
                  key: 'policy',
                  label: 'what happens to a value that is there',
                  shown: POLICIES.find((one) => one.value === pair.policy)?.label ?? '',
                  pick: { kind: 'options', current: pair.policy, options: POLICIES },
                  onSet: (policy) => pairAt(n, { policy: policy as Fill['pairs'][number]['policy'] }),
                },
              ]}
              end={
                <RemoveSentence
                  what={`the fill of ${targets.find((one) => one.id === pair.to)?.label ?? pair.to}`}
                  onRemove={() => pairAt(n, undefined)}
                />
              }
            />
          </li>
        ))}
      </ul>
      {free.length > 0 && <Sentence parts={['Fill ', addPair, ' too.']} />}
    </>
  );
}
