import { currentOffice } from '@fiche/core/office';
import { paperOf } from '@fiche/core/print';
import type { RecordId, TableId } from '@fiche/core/tables';

/** Where a record is printed from, as its form lays it out, or as it stood at a moment; on the paper of the office’s country. */
export function printAddress(
  table: TableId,
  record: RecordId | string,
  { form, asOf }: { readonly form?: string | undefined; readonly asOf?: string | undefined } = {},
): string {
  const asked = new URLSearchParams({
    paper: paperOf(currentOffice().locale),
    ...(form === undefined ? {} : { form }),
    ...(asOf === undefined ? {} : { asOf }),
  });
  return `/api/tables/${table}/records/${record}/print?${asked}`;
}
