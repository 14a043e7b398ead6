import Button from '@mui/material/Button';
import { useOffice } from '../client/index.ts';
import { textCss } from '../parts/index.ts';
import ledgerCss from './ledger.module.css';

/** The lines that are shown, as files: for those who export all tables among them. `asked` is the filter as the server is asked. */
export function ExportLines({ asked }: { readonly asked: Readonly<Record<string, string>> }) {
  const { cabinet, may, tables } = useOffice();
  const among = asked.table === undefined ? [...tables.keys()] : [asked.table];
  if (!among.every((table) => may('export', table))) return null;
  const address = (as: string): string =>
    `/api/cabinets/${cabinet.id}/ledger/lines?${new URLSearchParams({ ...asked, as })}`;
  return (
    <p className={ledgerCss.verify}>
      <span className={textCss.faded}>Export these lines as</span>
      <Button variant="text" component="a" href={address('csv')} download>
        CSV
      </Button>
      <Button variant="text" component="a" href={address('jsonl')} download>
        JSON Lines
      </Button>
    </p>
  );
}
