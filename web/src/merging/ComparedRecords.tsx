import type { ComparedRecord, MergeAnswer } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { type MergePlan, proposeSources, type ValueSource } from '@fiche/core/merging';
import { formatCount } from '@fiche/core/office';
import type { FieldId, RecordId, TableDefinition } from '@fiche/core/tables';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { textCss, useNotify, Waiting } from '../parts/index.ts';
import { ComparisonTable } from './ComparisonTable.tsx';
import { MergePreview } from './MergePreview.tsx';
import mergingCss from './merging.module.css';

interface ComparedProps {
  readonly table: TableDefinition;
  readonly records: readonly RecordId[];
  /** The address of the table. */
  readonly path: string;
  onMerged(): void;
  onLeave(): void;
}

/** Records side by side: which one stays, which value it has of each field, what that moves; and the merge itself. */
export function ComparedRecords(props: ComparedProps) {
  const { table, records } = props;
  const compared = useQuery({
    queryKey: ['compare', table.id, records],
    queryFn: () => send<{ records: ComparedRecord[] }>('POST', `/api/tables/${table.id}/compare`, { records }),
    staleTime: 0,
    gcTime: 0,
  });
  if (compared.isError)
    return (
      <p className={textCss.problem} role="alert">
        {compared.error.message}
      </p>
    );
  if (!compared.data) return <Waiting what={say('Reading the records…')} />;
  const there = compared.data.records.filter((one) => !one.archived);
  if (there.length < 2)
    return (
      <p className={textCss.faded} role="status">
        {say('Fewer than two of these records are in use, so there is nothing to merge.')}
      </p>
    );
  return <Merge {...props} compared={there} onAgain={() => void compared.refetch()} />;
}

/** The record that most others link to: the fewest of them are changed then. */
const mostLinked = (records: readonly ComparedRecord[]): RecordId =>
  records.reduce((best, one) => (one.linking > best.linking ? one : best)).id;

function Merge({
  table,
  compared,
  path,
  onMerged,
  onLeave,
  onAgain,
}: ComparedProps & { readonly compared: readonly ComparedRecord[]; onAgain(): void }) {
  const { cabinet, may } = useOffice();
  const notify = useNotify();
  const queries = useQueryClient();
  const [wanted, setWanted] = useState<RecordId>();
  const [leftOut, setLeftOut] = useState<ReadonlySet<RecordId>>(new Set());
  const [chosen, setChosen] = useState<Readonly<Record<FieldId, ValueSource>>>({});
  const records = compared.filter((one) => !leftOut.has(one.id));
  const stays = records.find((one) => one.id === wanted)?.id ?? mostLinked(records);
  const isThere = (source: ValueSource): boolean => source === 'all' || records.some((one) => one.id === source);
  const valuesFrom = {
    ...proposeSources(table.fields, records, stays),
    ...Object.fromEntries(Object.entries(chosen).filter(([, one]) => isThere(one))),
  };
  const plan: MergePlan = { stays, records: records.map(({ id, version }) => ({ id, version })), valuesFrom };
  const url = `/api/tables/${table.id}/merges`;
  const mayMerge = may('change', table.id) && may('archive', table.id);
  const looked = useQuery({
    queryKey: ['merge', table.id, plan],
    queryFn: () => send<MergeAnswer>('POST', url, { do: 'look', plan }),
    enabled: mayMerge && records.length > 1,
    placeholderData: keepPreviousData,
    staleTime: 0,
    gcTime: 0,
    retry: false,
  });
  const title = records.find((one) => one.id === stays)?.title ?? '';
  const putBack = async (transaction: number): Promise<void> => {
    try {
      await send('POST', `/api/cabinets/${cabinet.id}/saves/${transaction}/put-back`, { do: 'all' });
      await queries.invalidateQueries();
      notify(say('The merge is put back.'));
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const merge = useMutation({
    mutationFn: () => send<MergeAnswer>('POST', url, { do: 'write', plan }),
    onSuccess: async ({ transaction }) => {
      notify(
        say('{count} records are one now: {title}.', { count: formatCount(records.length), title }),
        transaction === null ? undefined : () => putBack(transaction),
      );
      await queries.invalidateQueries({ queryKey: ['records', table.id] });
      onMerged();
    },
    onError: (error) => {
      notify(error.message);
      onAgain();
    },
  });
  const blocked = looked.isError || (looked.data?.problems.length ?? 0) > 0;
  return (
    <section className={mergingCss.compared} aria-label={say('Compared records')}>
      <ComparisonTable
        {...{ table, records, stays, valuesFrom, path }}
        onStays={setWanted}
        onChoose={(field, one) => setChosen({ ...chosen, [field]: one })}
        onLeaveOut={records.length > 2 ? (id) => setLeftOut(new Set([...leftOut, id])) : undefined}
      />
      {!mayMerge && (
        <p className={textCss.faded}>
          {say('Your role does not merge records of {label}: that changes and archives them.', { label: table.label })}
        </p>
      )}
      {looked.isError && <Alert severity="error">{looked.error.message}</Alert>}
      {mayMerge && looked.data && !looked.isError && (
        <MergePreview answer={looked.data} count={records.length} title={title} />
      )}
      <div className={mergingCss.acts}>
        {mayMerge && (
          <Button
            variant="contained"
            disabled={records.length < 2 || blocked || looked.isPending || merge.isPending}
            onClick={() => merge.mutate()}
          >
            {say('Merge {count} records into {title}', { count: formatCount(records.length), title })}
          </Button>
        )}
        <Button variant="text" onClick={onLeave}>
          {say('They are not the same')}
        </Button>
      </div>
    </section>
  );
}
