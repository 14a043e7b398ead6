import type { LineView } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import { useState } from 'react';
import { Link } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { Changes, pageCss, showMoment, ThroughWords, textCss } from '../parts/index.ts';
import type { SaveId } from '../past/index.ts';

interface SaveRowProps {
  /** The lines of one save. */
  readonly save: readonly LineView[];
  /** Shows the records of an import, or of a change of many. */
  onOpen(kind: 'import' | 'change', id: number): void;
  /** Shows what putting the save back would do; without it the reader writes nothing. */
  onPutBack?(save: SaveId): void;
}

/** Whether a line is of a save that can be put back: of records, or of an import; a change of many is put back where it is opened. */
const isPutBack = (line: LineView): boolean => line.kind !== 'erase' && (line.table !== null || line.import !== null);

/** One save: the record that was written first with what changed, and the others, its lines, when it is opened. */
export function SaveRow({ save, onOpen, onPutBack }: SaveRowProps) {
  const { cabinet } = useOffice();
  const [open, setOpen] = useState(false);
  const [first, ...others] = save;
  if (!first) return null;
  const record = (line: LineView) => (
    <>
      <span className={textCss.faded}>{line.what}</span>{' '}
      {line.import !== null ? (
        <Button variant="text" onClick={() => onOpen('import', Number(line.import))}>
          <strong>{line.title}</strong>
        </Button>
      ) : line.change !== null ? (
        <Button variant="text" onClick={() => onOpen('change', Number(line.change?.id))}>
          <strong>{line.title}</strong>
        </Button>
      ) : line.table ? (
        <Link to={`/${cabinet.id}/tables/${line.table}/${line.record}`}>
          <strong>{line.title}</strong>
        </Link>
      ) : (
        <strong>{line.title}</strong>
      )}
    </>
  );
  return (
    <>
      <TableRow>
        <TableCell className={pageCss.when}>{showMoment(first.at)}</TableCell>
        <TableCell className={pageCss.who}>{first.account}</TableCell>
        <TableCell>
          {record(first)}
          {others.length > 0 && (
            <div>
              <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)}>
                {open
                  ? say('Show less')
                  : sayCount(others.length, 'and {count} more record', 'and {count} more records')}
              </Button>
            </div>
          )}
        </TableCell>
        <TableCell>
          <Changes line={first} limit={6} />
        </TableCell>
        <TableCell className={textCss.faded}>
          <ThroughWords line={first} tables={`/${cabinet.id}/tables`} />
          {onPutBack && isPutBack(first) && (
            <Button
              variant="text"
              className={textCss.smallButton}
              onClick={() => onPutBack({ transaction: first.transaction, at: first.at })}
            >
              {say('Put back…')}
            </Button>
          )}
        </TableCell>
      </TableRow>
      {open &&
        others.map((line) => (
          <TableRow key={line.id}>
            <TableCell colSpan={2} />
            <TableCell>{record(line)}</TableCell>
            <TableCell colSpan={2}>
              <Changes line={line} limit={6} />
            </TableCell>
          </TableRow>
        ))}
    </>
  );
}
