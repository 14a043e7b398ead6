import type { RecordView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { TableId } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { type SyntheticEvent, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router-dom';
import { send } from '../client/index.ts';
import { FieldInput, pageCss, pickerCss, sayWith, textCss, useShortcut } from '../parts/index.ts';
import type { PlacedRecord } from './card.ts';
import { usePlaceNumbers } from './usePlaceNumbers.ts';

interface Props {
  readonly table: TableId;
  readonly path: string;
  /** The address of the card of a record. */
  cardAt(record: number): string;
  /** The view among whose records it stands. */
  readonly view: number | undefined;
  /** The answers to what the view asks each time. */
  readonly asked: string | null | undefined;
  readonly opened?: PlacedRecord;
  readonly mayAdd: boolean;
}

/** Where this record stands, and the ways to others: first, previous, next, last, a number, words, a blank card. */
export function RecordNavigation({ table, path, cardAt, view, asked, opened, mayAdd }: Props) {
  const [open, setOpen] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  useShortcut('findRecord', () => setOpen(true));
  // A record that a view does not show stands nowhere in it.
  const place = opened && !opened.archived && opened.inView !== false ? opened.place : undefined;
  const numbers = usePlaceNumbers(table, place && opened);
  const step = (id: number | null | undefined, sign: string, words: string) =>
    id === null || id === undefined || id === opened?.id ? (
      <span aria-hidden="true" className={clsx(textCss.faded, pageCss.step)}>
        {sign}
      </span>
    ) : (
      <Link className={pageCss.step} to={cardAt(id)} aria-label={words}>
        {sign}
      </Link>
    );
  return (
    <>
      <span className={pageCss.neighbours}>
        {place && step(place.first, '«', say('First record'))}
        {place && step(place.previous, '‹', say('Previous record'))}
        <Button
          ref={button}
          variant="text"
          className={pageCss.where}
          aria-haspopup="dialog"
          onClick={() => setOpen(true)}
        >
          {numbers ? (
            <span>
              {sayWith('Record {name} of {total}', {
                name: <strong>{formatCount(numbers.position)}</strong>,
                total: formatCount(numbers.total),
              })}
            </span>
          ) : (
            say('Find a record')
          )}
        </Button>
        {place && step(place.next, '›', say('Next record'))}
        {place && step(place.last, '»', say('Last record'))}
      </span>
      {opened && mayAdd && <Link to={`${path}/new`}>{say('New')}</Link>}
      <Popover
        open={open}
        anchorEl={() => button.current}
        onClose={() => setOpen(false)}
        transitionDuration={0}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': say('Go to a record') } }}
      >
        <FindRecord {...{ table, cardAt, view, asked }} total={numbers?.total} onClose={() => setOpen(false)} />
      </Popover>
    </>
  );
}

const AT_ONCE = 8;

/** One input for both: a number jumps to that place, words find records by their title. */
function FindRecord({
  table,
  cardAt,
  view,
  asked,
  total,
  onClose,
}: Pick<Props, 'table' | 'cardAt' | 'view' | 'asked'> & { total?: number; onClose(): void }) {
  const [text, setText] = useState('');
  const [trouble, setTrouble] = useState('');
  const navigate = useNavigate();
  const words = text.trim();
  const query = useQuery({
    queryKey: ['find', table, words],
    queryFn: () =>
      send<{ records: RecordView[] }>(
        'GET',
        `/api/tables/${table}/records?limit=${AT_ONCE}&search=${encodeURIComponent(words)}`,
      ),
    enabled: words !== '',
    staleTime: 5_000,
  });
  const found = words === '' ? [] : (query.data?.records ?? []);
  const go = (id: number): void => {
    onClose();
    navigate(cardAt(id));
  };
  const submit = async (event: SyntheticEvent): Promise<void> => {
    event.preventDefault();
    try {
      const at = `/api/tables/${table}/at/${words}${view === undefined ? '' : `?${new URLSearchParams({ view: String(view), ...(asked ? { asked } : {}) })}`}`;
      if (/^\d{1,9}$/.test(words)) go((await send<{ id: number }>('GET', at)).id);
      else if (found[0]) go(found[0].id);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return (
    <form className={pickerCss.picker} onSubmit={(event) => void submit(event)}>
      <FieldInput
        autoFocus
        aria-label={say('A number to jump to, or words to find')}
        placeholder={say('A number{total}, or words to find', {
          total: total === undefined ? '' : ` ${say('to {total}', { total: formatCount(total) })}`,
        })}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setTrouble('');
        }}
      />
      {trouble !== '' && (
        <div className={clsx(pickerCss.hint, textCss.problem)} role="alert">
          {trouble}
        </div>
      )}
      <ul aria-label={say('Found')}>
        {found.map((one) => (
          <li key={one.id}>
            <Button variant="text" onClick={() => go(one.id)}>
              {one.title}
            </Button>
          </li>
        ))}
      </ul>
      {words !== '' && query.data && found.length === 0 && !/^\d+$/.test(words) && (
        <div className={pickerCss.hint}>{say('No record in use has this name.')}</div>
      )}
    </form>
  );
}
