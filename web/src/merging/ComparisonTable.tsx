import type { ComparedRecord } from '@fiche/core/api';
import { isBlank, isLinking, isSeveral, sameValue } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { isChoosable, type ValueSource } from '@fiche/core/merging';
import { formatCount } from '@fiche/core/office';
import { type FieldDefinition, type FieldId, type RecordId, type TableDefinition, typeOf } from '@fiche/core/tables';
import RemoveIcon from '@mui/icons-material/Close';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import Radio from '@mui/material/Radio';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { clsx } from 'clsx';
import { Link } from 'react-router-dom';
import { pageCss, textCss } from '../parts/index.ts';
import mergingCss from './merging.module.css';

interface TableProps {
  readonly table: TableDefinition;
  readonly records: readonly ComparedRecord[];
  readonly stays: RecordId;
  readonly valuesFrom: Readonly<Record<FieldId, ValueSource>>;
  /** The address of the table. */
  readonly path: string;
  onStays(record: RecordId): void;
  onChoose(field: FieldId, source: ValueSource): void;
  /** Takes a record out of the comparison; undefined where only two are left. */
  onLeaveOut: ((record: RecordId) => void) | undefined;
}

/** Whether records differ in a field. */
const differs = (records: readonly ComparedRecord[], { id }: FieldDefinition): boolean =>
  records.some((one) => !sameValue(one.values[id] ?? null, records[0]?.values[id] ?? null));

/** A record in each column, a field in each row: those that differ first, with a choice of the value that stays. */
export function ComparisonTable(props: TableProps) {
  const { table, records, stays, path, onStays, onLeaveOut } = props;
  const fields = table.fields.filter((field) => records.some((one) => !isBlank(one.values[field.id])));
  const [different, alike] = [
    fields.filter((field) => differs(records, field)),
    fields.filter((field) => !differs(records, field)),
  ];
  const together = different.some((field) => isSeveral(field) && isChoosable(field));
  return (
    <div className={mergingCss.scroll}>
      <Table className={pageCss.list} size="small" aria-label={say('Records side by side')}>
        <TableHead>
          <TableRow>
            <TableCell>{say('Field')}</TableCell>
            {records.map((one) => (
              <TableCell key={one.id} className={clsx(one.id === stays && mergingCss.stays)}>
                <div className={mergingCss.record}>
                  <Link to={`${path}/${one.id}`} target="_blank" rel="noreferrer">
                    {one.title}
                    <span className={textCss.visuallyHidden}> {say('in a new tab')}</span>
                  </Link>
                  {onLeaveOut && (
                    <IconButton
                      aria-label={say('Leave {title} out', { title: one.title })}
                      onClick={() => onLeaveOut(one.id)}
                    >
                      <RemoveIcon />
                    </IconButton>
                  )}
                </div>
                <div className={textCss.faded}>
                  {one.linking === 0
                    ? say('nothing links here')
                    : say('{linking} link here', { linking: formatCount(one.linking) })}
                </div>
                <FormControlLabel
                  label={say('Stays')}
                  control={
                    <Radio
                      name="stays"
                      checked={one.id === stays}
                      slotProps={{
                        input: { 'aria-label': say('{title} (number {id}) stays', { title: one.title, id: one.id }) },
                      }}
                      onChange={() => onStays(one.id)}
                    />
                  }
                />
              </TableCell>
            ))}
            {together && <TableCell>{say('Together')}</TableCell>}
          </TableRow>
        </TableHead>
        <TableBody>
          {different.map((field) => (
            <FieldRow key={field.id} {...props} field={field} choice together={together} />
          ))}
          {alike.map((field) => (
            <FieldRow key={field.id} {...props} field={field} choice={false} together={together} />
          ))}
        </TableBody>
      </Table>
    </div>
  );
}

interface RowProps extends TableProps {
  readonly field: FieldDefinition;
  /** The records differ in it. */
  readonly choice: boolean;
  readonly together: boolean;
}

function FieldRow({ records, stays, valuesFrom, onChoose, field, choice, together }: RowProps) {
  const choosable = choice && isChoosable(field);
  const source = valuesFrom[field.id] ?? stays;
  const radio = (of: ValueSource, what: string) => (
    <Radio
      name={`value-${field.id}`}
      checked={source === of}
      slotProps={{ input: { 'aria-label': `${field.label}: ${what}` } }}
      onChange={() => onChoose(field.id, of)}
    />
  );
  return (
    <TableRow className={clsx(!choice && mergingCss.alike)}>
      <TableCell component="th" scope="row">
        {field.label}
        {choice && !choosable && <div className={textCss.faded}>{say('stays that of the record that stays')}</div>}
      </TableCell>
      {records.map((one) => {
        const words = wordsOf(one, field);
        const kept = choice && (choosable ? source === one.id || source === 'all' : one.id === stays);
        return (
          <TableCell key={one.id} className={clsx(kept && mergingCss.kept)}>
            <span className={mergingCss.value}>
              {choosable && radio(one.id, words || 'blank')}
              <span>{words || <span className={textCss.faded}>{say('blank')}</span>}</span>
            </span>
          </TableCell>
        );
      })}
      {together && <TableCell>{choosable && isSeveral(field) && radio('all', say('all of them together'))}</TableCell>}
    </TableRow>
  );
}

function wordsOf(record: ComparedRecord, field: FieldDefinition): string {
  const value = record.values[field.id] ?? null;
  if (isBlank(value)) return '';
  return isLinking(field) ? (record.linked[field.id]?.title ?? '') : typeOf(field).format(value, field.settings);
}
