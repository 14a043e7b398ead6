import { say } from '@fiche/core/languages';
import { rightTo } from '@fiche/core/rights';
import type { TableId } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { type CabinetView, useOffice } from '../client/index.ts';
import { textCss } from '../parts/index.ts';
import ledgerCss from './ledger.module.css';

/** Whether one’s role exports all records of a table, or of every table. */
export const exportsAll = ({ role, tables }: CabinetView, table?: TableId): boolean =>
  tables.every((one) => (table ?? one.id) !== one.id || rightTo(role, 'export', one) === 'yes');

/** The lines that are shown, as files: for those who export all tables among them. `asked` is the filter as the server is asked. */
export function ExportLines({ asked }: { readonly asked: Readonly<Record<string, string>> }) {
  const { cabinet } = useOffice();
  if (!exportsAll(cabinet, asked.table)) return null;
  const address = (as: string): string =>
    `/api/cabinets/${cabinet.id}/ledger/lines?${new URLSearchParams({ ...asked, as })}`;
  return (
    <p className={ledgerCss.verify}>
      <span className={textCss.faded}>{say('Export these lines as')}</span>
      <Button variant="text" component="a" href={address('csv')} download>
        {say('CSV')}
      </Button>
      <Button variant="text" component="a" href={address('jsonl')} download>
        {say('JSON Lines')}
      </Button>
    </p>
  );
}
