import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import CloseIcon from '@mui/icons-material/Close';
import IconButton from '@mui/material/IconButton';
import Paper from '@mui/material/Paper';
import Tooltip from '@mui/material/Tooltip';
import useMediaQuery from '@mui/material/useMediaQuery';
import { useRef, useState } from 'react';
import { useLocation, useSearchParams } from 'react-router-dom';
import { useTableForm } from '../client/index.ts';
import { SheetsOver, textCss } from '../parts/index.ts';
import { CardPage } from '../records/index.ts';
import { CARD, inView } from './answersInAddress.ts';
import cardBesideCss from './cardBeside.module.css';

/** Whether this browser shows cards beside lists. */
const KEPT = 'fiche.cardBeside';

/** The card beside a list: whether there is one, whose it is as the address has it, and showing another. */
export function useCardBeside() {
  const [address, setAddress] = useSearchParams();
  const fits = useMediaQuery('(min-width: 1100px)');
  const [wanted, setWanted] = useState(() => localStorage.getItem(KEPT) === 'yes');
  const [, setAsked] = useState(0);
  const wantsFocus = useRef<number>(undefined);
  const named = Number(address.get(CARD) ?? 0);
  const record = named > 0 ? named : undefined;
  const on = fits && wanted;
  const show = (next: number | undefined): void => setAddress((now) => withCard(now, next), { replace: true });
  return {
    /** Whether there is room for it. */
    fits,
    on,
    record,
    wantsFocus,
    setOn(next: boolean): void {
      localStorage.setItem(KEPT, next ? 'yes' : 'no');
      setWanted(next);
      if (!next) show(undefined);
    },
    /** What the list does with it. */
    grid: on
      ? {
          record,
          show(next: number, focus: boolean): void {
            if (next !== record) show(next);
            if (!focus) return;
            wantsFocus.current = next;
            // The card that is there already is drawn again, and takes the focus.
            setAsked((count) => count + 1);
          },
        }
      : undefined,
  };
}

function withCard(address: URLSearchParams, record: number | undefined): URLSearchParams {
  const next = new URLSearchParams(address);
  if (record === undefined) next.delete(CARD);
  else next.set(CARD, String(record));
  return next;
}

interface Props {
  readonly table: TableDefinition;
  readonly path: string;
  /** The view among whose records it stands; none for a list that is not shown as it was saved. */
  readonly view: number | undefined;
  readonly card: ReturnType<typeof useCardBeside>;
}

/** The card of the row that was chosen in the list, with all that a card can do. */
export function CardBeside({ table, path, view, card }: Props) {
  const { record, wantsFocus } = card;
  const form = useTableForm(table);
  const { pathname } = useLocation();
  const [address] = useSearchParams();
  const at = (next: number | undefined): string => {
    const search = withCard(address, next).toString();
    return search === '' ? pathname : `${pathname}?${search}`;
  };
  return (
    <Paper component="aside" square aria-label={say('Card beside the list')} className={cardBesideCss.pane}>
      <Tooltip title={say('Close the card')}>
        <IconButton
          className={cardBesideCss.close}
          aria-label={say('Close the card beside the list')}
          onClick={() => card.setOn(false)}
        >
          <CloseIcon />
        </IconButton>
      </Tooltip>
      {record === undefined ? (
        <p className={textCss.faded}>{say('Choose a row: its card opens here.')}</p>
      ) : (
        <SheetsOver.Provider value={true}>
          <CardPage
            form={form}
            version={null}
            base={`/api/tables/${table.id}`}
            path={path}
            record={String(record)}
            view={view ?? null}
            asked={address.get('asked')}
            search={view === undefined ? '' : inView(view, address)}
            beside={{ cardAt: at, list: at(undefined), wantsFocus }}
          />
        </SheetsOver.Provider>
      )}
    </Paper>
  );
}
