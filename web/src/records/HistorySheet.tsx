import type { LineView } from '@fiche/core/api';
import type { Value } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { FieldId, IdOfForm, RecordId, TableId } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { bySave, Changes, ledgerLineCss, Sheet, showMoment, ThroughWords, textCss } from '../parts/index.ts';
import { PutBackSave, type SaveId } from '../past/index.ts';
import historyCss from './history.module.css';

interface Props {
  readonly table: TableId;
  readonly record: RecordId;
  /** The form whose lines belong to the record. */
  readonly formId?: IdOfForm;
  /** Puts earlier values into the open card, to be saved like any change; nothing where the card cannot be changed. */
  onPutBack?(values: Readonly<Record<string, Value>>): void;
  onClose(): void;
}

interface Page {
  readonly lines: readonly LineView[];
  readonly before: number | null;
}

/** The history of a record and its lines: by save, or by field, with the way back to what was there. */
export function HistorySheet({ table, record, formId, onPutBack, onClose }: Props) {
  const [by, setBy] = useState<'save' | 'field'>('save');
  const [saveBack, setSaveBack] = useState<SaveId>();
  const query = useInfiniteQuery({
    queryKey: ['history', table, record],
    initialPageParam: '',
    queryFn: ({ pageParam }) => {
      const asked = new URLSearchParams({
        ...(formId === undefined ? {} : { form: formId }),
        ...(pageParam === '' ? {} : { before: pageParam }),
      });
      return send<Page>('GET', `/api/tables/${table}/records/${record}/history?${asked}`);
    },
    getNextPageParam: ({ before }) => (before === null ? undefined : String(before)),
    staleTime: 0,
  });
  const { data: fetched } = query;
  const lines = fetched?.pages.flatMap((page) => page.lines) ?? [];
  const own = lines.filter((line) => line.table === table);
  if (saveBack !== undefined) return <PutBackSave save={saveBack} onClose={() => setSaveBack(undefined)} />;
  return (
    <Sheet title={say('History')} onClose={onClose}>
      <ToggleButtonGroup
        value={by}
        aria-label={say('Group the history')}
        sx={{ mb: 1 }}
        onChange={(_event, next: 'save' | 'field' | null) => next && setBy(next)}
      >
        <ToggleButton value="save">{say('By save')}</ToggleButton>
        <ToggleButton value="field">{say('By field')}</ToggleButton>
      </ToggleButtonGroup>
      {query.isError && <p role="alert">{query.error.message}</p>}
      {by === 'save'
        ? bySave(lines).map((save) => (
            <Save key={save[0]?.id} save={save} {...{ table, own, onPutBack }} onPutBackSave={setSaveBack} />
          ))
        : fieldsOf(own).map(([field, label, changes]) => (
            <section key={field} className={ledgerLineCss.line}>
              <div className={ledgerLineCss.when}>{label}</div>
              {changes.map(({ line, change }) => (
                <div className={ledgerLineCss.change} key={line.id}>
                  <span className={textCss.faded}>
                    {showMoment(line.at)} · {line.account}
                  </span>{' '}
                  <del>{change.before || say('blank')}</del> <span aria-hidden="true">→</span>
                  <span className={textCss.visuallyHidden}>{say('became')}</span>{' '}
                  <ins>{change.after || say('blank')}</ins>
                  {onPutBack && line.kind === 'change' && (
                    <Button variant="text" onClick={() => onPutBack({ [field]: change.was })}>
                      {say('Put back {before}', { before: change.before || say('blank') })}
                    </Button>
                  )}
                </div>
              ))}
            </section>
          ))}
      {query.hasNextPage && (
        <Button disabled={query.isFetchingNextPage} onClick={() => void query.fetchNextPage()}>
          {say('Show older changes')}
        </Button>
      )}
    </Sheet>
  );
}

/** The lines of one save, the record’s own first. */
function Save({
  save,
  table,
  own,
  onPutBack,
  onPutBackSave,
}: { save: readonly LineView[]; own: readonly LineView[]; onPutBackSave(save: SaveId): void } & Pick<
  Props,
  'table' | 'onPutBack'
>) {
  const { cabinet } = useOffice();
  const [first] = save;
  const mine = save.find((line) => line.table === table);
  if (!first) return null;
  return (
    <div className={ledgerLineCss.line}>
      <div className={ledgerLineCss.when}>
        {showMoment(first.at)} · {first.account}
      </div>
      <ThroughWords line={mine ?? first} tables={`/${cabinet.id}/tables`} />
      <div className={historyCss.putBack}>
        <Link to={{ search: `?asOf=${encodeURIComponent(first.at)}` }}>{say('As it stood then')}</Link>
        {onPutBack && (save.length > 1 || first.wrote.length > 0 || mine?.kind === 'add') && (
          <Button variant="text" onClick={() => onPutBackSave({ transaction: first.transaction, at: first.at })}>
            {say('Put the whole save back…')}
          </Button>
        )}
      </div>
      {mine && <Changes line={mine} />}
      {mine?.kind === 'change' && onPutBack && (
        <div className={historyCss.putBack}>
          {mine.changes.length > 1 &&
            mine.changes.map((change) => (
              <Button key={change.field} variant="text" onClick={() => onPutBack({ [change.field]: change.was })}>
                {say('Put back {label}', { label: change.label })}
              </Button>
            ))}
          <Button variant="text" onClick={() => onPutBack(before(own, mine))}>
            {mine.changes.length > 1 || own[0] !== mine ? say('Put all back to before this save') : say('Put it back')}
          </Button>
        </div>
      )}
      {save
        .filter((line) => line !== mine)
        .map((line) => (
          <div key={line.id} className={historyCss.ofLine}>
            <span className={textCss.faded}>
              {line.what}: {line.title}
            </span>
            <Changes line={line} />
          </div>
        ))}
    </div>
  );
}

/** The values of all fields that changed in a save or after it, as they stood before it. */
function before(own: readonly LineView[], since: LineView): Record<string, Value> {
  const values: Record<string, Value> = {};
  for (const line of own) {
    if (line.id < since.id) break;
    for (const change of line.changes) values[change.field] = change.was;
  }
  return values;
}

type Change = { readonly line: LineView; readonly change: LineView['changes'][number] };

/** The changes of each field, newest first; the latest changed field first. */
function fieldsOf(own: readonly LineView[]): [field: FieldId, label: string, changes: Change[]][] {
  const found = new Map<string, { label: string; changes: Change[] }>();
  for (const line of own)
    for (const change of line.changes) {
      const known = found.get(change.field) ?? { label: change.label, changes: [] };
      known.changes.push({ line, change });
      found.set(change.field, known);
    }
  return [...found].map(([field, { label, changes }]) => [field, label, changes]);
}
