import type { LineView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useInfiniteQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { type ComponentProps, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router-dom';
import { PutBackSheet } from '../changes/index.ts';
import { send, useOffice } from '../client/index.ts';
import { bySave, pageCss, Sentence, textCss, useNotify, Waiting } from '../parts/index.ts';
import { PutBackSave, type SaveId } from '../past/index.ts';
import { ExportLines } from './ExportLines.tsx';
import ledgerCss from './ledger.module.css';
import { askedWith, filterOf, filterSentence, type LedgerFilter } from './ledgerFilter.ts';
import { SaveRow } from './SaveRow.tsx';
import { Timeline } from './Timeline.tsx';
import { VerifyLedger } from './VerifyLedger.tsx';

interface Page {
  readonly lines: readonly LineView[];
  readonly before: number | null;
}

/** All lines of the cabinet, newest first, filtered by one sentence. */
export function LedgerPage() {
  const { cabinet, may, tables } = useOffice();
  const notify = useNotify();
  const [puttingBack, setPuttingBack] = useState(false);
  const [saveBack, setSaveBack] = useState<SaveId>();
  const [timeline, setTimeline] = useState(false);
  const [search, setSearch] = useSearchParams();
  // What is filtered stands in the address: it is there again by Back, and can be given to others.
  const filter = useMemo(() => filterOf(search), [search]);
  const setFilter = (next: LedgerFilter): void => setSearch(askedWith(next));
  const opened = (['import', 'change'] as const).find((kind) => search.has(kind));
  const asked = opened === undefined ? {} : { [opened]: search.get(opened) ?? '' };
  const query = useLedgerLines(filter, asked);
  if (!may('ledger'))
    return (
      <p className={pageCss.empty}>
        {say('Your role does not allow the ledger. A record’s own history is shown beside the record.')}
      </p>
    );
  const { data: fetched } = query;
  const lines = fetched?.pages.flatMap((page) => page.lines) ?? [];
  const table = tables.get(lines[0]?.table ?? '');
  const mayWrite = may('change') || may('archive');
  const mayPutBack = table && (may('change', table.id) || may('archive', table.id));
  const [first] = lines;
  return (
    <div className={pageCss.withSheet}>
      <div className={pageCss.body}>
        <h1 className={textCss.visuallyHidden}>{say('Ledger')}</h1>
        <div className={ledgerCss.filter}>
          <Sentence parts={filterSentence(cabinet, filter, setFilter, notify)} />
          <Button variant="text" aria-expanded={timeline} onClick={() => setTimeline(!timeline)}>
            {timeline ? say('Close the timeline') : say('Timeline and what stands out')}
          </Button>
          <VerifyLedger />
          <ExportLines asked={{ ...askedWith(filter), ...asked }} />
          {opened && (
            <OpenedNote
              opened={opened}
              onPutBack={
                !mayPutBack
                  ? undefined
                  : opened === 'change'
                    ? () => setPuttingBack(true)
                    : first && (() => setSaveBack({ transaction: first.transaction, at: first.at }))
              }
              onAll={() => setSearch({})}
            />
          )}
        </div>
        {timeline && <Timeline asked={askedWith(filter)} onNarrow={(change) => setFilter({ ...filter, ...change })} />}
        {query.isError && (
          <p className={pageCss.empty} role="alert">
            {query.error.message}
          </p>
        )}
        {query.isPending && <Waiting what={say('Reading the ledger…')} />}
        {query.data && lines.length === 0 && (
          <p className={clsx(pageCss.empty, pageCss.listCard)}>
            {say('No line matches. Choose “anyone” or “everything” to see more.')}
          </p>
        )}
        {lines.length > 0 && (
          <Saves
            lines={lines}
            onOpen={(kind, id) => setSearch({ [kind]: String(id) })}
            {...(opened === undefined && mayWrite ? { onPutBack: setSaveBack } : {})}
          />
        )}
        {query.hasNextPage && (
          <p className={ledgerCss.more}>
            <Button disabled={query.isFetchingNextPage} onClick={() => void query.fetchNextPage()}>
              {say('Show older lines')}
            </Button>
          </p>
        )}
      </div>
      {saveBack !== undefined && (
        <PutBackSave
          key={`${saveBack.transaction} ${saveBack.at}`}
          save={saveBack}
          onClose={() => setSaveBack(undefined)}
        />
      )}
      {puttingBack && table && (
        <PutBackSheet
          key={search.get('change')}
          table={table}
          what={Number(search.get('change'))}
          onClose={() => setPuttingBack(false)}
        />
      )}
    </div>
  );
}

/** The lines of the ledger page by page, as a filter asks for them, or those of one import or change of many. */
function useLedgerLines(filter: LedgerFilter, asked: Readonly<Record<string, string>>) {
  const { cabinet } = useOffice();
  return useInfiniteQuery({
    queryKey: ['ledger', cabinet.id, filter, asked],
    initialPageParam: '',
    queryFn: ({ pageParam }) => {
      const query = new URLSearchParams({
        ...askedWith(filter),
        ...asked,
        ...(pageParam ? { before: pageParam } : {}),
      });
      return send<Page>('GET', `/api/cabinets/${cabinet.id}/ledger?${query}`);
    },
    getNextPageParam: (page) => (page.before === null ? undefined : String(page.before)),
  });
}

interface OpenedNoteProps {
  readonly opened: 'import' | 'change';
  /** Left out where the role may not put it back. */
  readonly onPutBack: (() => void) | undefined;
  onAll(): void;
}

/** Says that only the records of one import or change of many are listed. */
function OpenedNote({ opened, onPutBack, onAll }: OpenedNoteProps) {
  return (
    <p className={ledgerCss.opened}>
      {say('Only the records of one {opened}.', {
        opened: opened === 'import' ? say('import') : say('change of many'),
      })}
      {onPutBack && <Button onClick={onPutBack}>{say('Put back')}</Button>}
      <Button variant="text" onClick={onAll}>
        {say('Show all lines')}
      </Button>
    </p>
  );
}

/** The lines in a table, those of one save together. */
function Saves({
  lines,
  ...acts
}: { lines: readonly LineView[] } & Pick<ComponentProps<typeof SaveRow>, 'onOpen' | 'onPutBack'>) {
  return (
    <div className={pageCss.listCard}>
      <Table className={clsx(pageCss.list, ledgerCss.ledger)}>
        <TableHead>
          <TableRow>
            <TableCell scope="col">{say('When')}</TableCell>
            <TableCell scope="col">{say('Account')}</TableCell>
            <TableCell scope="col">{say('Record')}</TableCell>
            <TableCell scope="col">{say('What changed')}</TableCell>
            <TableCell scope="col">{say('Through')}</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {bySave(lines).map((save) => (
            <SaveRow key={save[0]?.id} save={save} {...acts} />
          ))}
        </TableBody>
      </Table>
    </div>
  );
}
