import type { RecordView } from '@fiche/core/api';
import type { Opening, SubformLine } from '@fiche/core/entry';
import { MOST_LINES, type PreparedForm, ROWS, rowsOf } from '@fiche/core/forms';
import { say, sayCount } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { type FocusEvent, type KeyboardEvent, type ReactNode, Suspense, useEffect, useMemo, useRef } from 'react';
import { Link } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { type Entry, enterMovesOn, Lines, ReasonList, useEntry } from '../entry/index.ts';
import { Card, cardCss, isShortcut, pageCss, textCss, useLeaving, useNotify, Waiting } from '../parts/index.ts';
import cardFieldsCss from './cardFields.module.css';
import { isUnsaved, useRowSaves } from './useRowSaves.ts';

interface Props {
  readonly form: PreparedForm;
  readonly version: number | null;
  readonly base: string;
  readonly path: string;
  /** The answers to what the form’s view asks each time, as the address has them. */
  readonly asked: string | null;
  /** What stands above the rows: what the view asks. */
  readonly above?: ReactNode;
}

const PAGE = 200;

/** The records of a form as rows, with a blank one ready: each is saved as it is left. */
export function RowsPage(props: Props) {
  const { base, version, form, asked } = props;
  const { definition } = form;
  const query = useQuery({
    queryKey: ['rows', base, version, asked],
    queryFn: async () => {
      const found: RecordView[] = [];
      for (let after: string | null = ''; after !== null && found.length < MOST_LINES; ) {
        const page: { records: RecordView[]; after: string | null } = await send(
          'GET',
          `${base}/records?limit=${PAGE}${version === null ? '' : `&version=${version}`}${after === '' ? '' : `&after=${encodeURIComponent(after)}`}${asked === null ? '' : `&asked=${encodeURIComponent(asked)}`}`,
        );
        found.push(...page.records);
        after = page.after;
      }
      return found;
    },
    enabled: definition.opensOn === 'rows',
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  if (query.isError)
    return (
      <p className={pageCss.empty} role="alert">
        {query.error.message}
      </p>
    );
  if (definition.opensOn === 'rows' && !query.data) return <Waiting what={say('Fetching the rows…')} />;
  return <FilledRows key={asked} {...props} records={query.data ?? []} />;
}

function FilledRows({ form, version, base, path, above, records }: Props & { records: readonly RecordView[] }) {
  const { session, may } = useOffice();
  const rows = useMemo(() => rowsOf(form), [form]);
  const opening = useMemo(
    (): Opening => ({ account: session.login, now: civilNow(), record: null, lines: { [ROWS]: records } }),
    [session.login, records],
  );
  const entry = useEntry({
    form: rows,
    opening,
    base,
    formVersion: version,
    plainLines: true,
    onSaved: () => undefined,
  });
  const { save, trouble } = useRowSaves(entry);
  const lines = entry.state.lines[ROWS] ?? [];
  const unsaved = lines.filter(isUnsaved);
  useLeaving(unsaved.length > 0, () => undefined);
  const subform = rows.subforms.get(ROWS);
  const { definition } = form;
  const mayWrite =
    (definition.may.add && may('add', form.table.id)) || (definition.may.change && may('change', form.table.id));
  const onBlur = (event: FocusEvent): void => {
    const from = (event.target as Element).closest<HTMLElement>('[data-line]')?.dataset.line;
    const to = (event.relatedTarget as Element | null)?.closest<HTMLElement>('[data-line]')?.dataset.line;
    if (from !== undefined && from !== to && unsaved.some((line) => line.key === from)) save(from);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    if (!isShortcut(event, 'save')) return;
    event.preventDefault();
    for (const line of unsaved) save(line.key);
  };
  useArchivedRows(entry, lines);
  if (!subform) return null;
  return (
    <div className={pageCss.body}>
      <Card
        title={definition.label}
        end={
          <>
            <span className={textCss.faded} role="status">
              {unsaved.length === 0
                ? say('All rows are saved')
                : say('{count} not saved yet', { count: sayCount(unsaved.length, 'One row', '{count} rows') })}
            </span>
            {definition.may.add && <Link to={`${path}/new`}>{say('As a card')}</Link>}
          </>
        }
      >
        {above && <div className={cardCss.section}>{above}</div>}
        <fieldset
          className={clsx(cardFieldsCss.fields, cardFieldsCss.rows, cardCss.section)}
          disabled={!mayWrite}
          onBlur={onBlur}
          onKeyDown={onKeyDown}
        >
          <div onKeyDown={enterMovesOn} role="presentation">
            <Suspense fallback={<Waiting what={say('Opening the rows…')} />}>
              <Lines entry={entry} subform={subform} narrow={false} focusBlank={definition.may.add} />
            </Suspense>
          </div>
        </fieldset>
        <ReasonList entry={entry} />
        {trouble !== '' && (
          <p className={clsx(cardCss.section, textCss.problem)} role="alert">
            {trouble}
          </p>
        )}
      </Card>
    </div>
  );
}

/** Archives a row at once that was taken out, with the way back. */
function useArchivedRows(entry: Entry, lines: readonly SubformLine[]): void {
  const notify = useNotify();
  const archived = useRef(new Set<string>());
  useEffect(() => {
    for (const line of lines) {
      const { record } = line.state.opening;
      if (!line.archived || !record || archived.current.has(line.key)) continue;
      archived.current.add(line.key);
      const change = (verb: string, of: number): Promise<RecordView> =>
        send<RecordView>('POST', `/api/tables/${entry.state.form.table.id}/records/${record.id}/${verb}`, {
          version: of,
        });
      change('archive', record.version).then(
        (after) =>
          notify(
            say('{title} is archived.', { title: after.title }),
            () =>
              void change('restore', after.version).then((back) => {
                entry.dispatch({ type: 'linesUndone' });
                entry.dispatch({
                  type: 'line',
                  line: { subform: ROWS, key: line.key },
                  event: { type: 'remoteSaved', record: back, by: null },
                });
                archived.current.delete(line.key);
              }),
          ),
        (error: Error) => {
          entry.dispatch({ type: 'linesUndone' });
          archived.current.delete(line.key);
          notify(error.message);
        },
      );
    }
  });
}
