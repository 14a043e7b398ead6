import type { ListedForm, Right, SessionView } from '@fiche/core/api';
import { ACTIONS, type Action, type Role, rightTo, rightToHistory } from '@fiche/core/rights';
import type { TableDefinition, TableId, Tables } from '@fiche/core/tables';
import { createContext, useContext, useMemo } from 'react';

/** A cabinet's tables, forms and accounts. */
export interface CabinetView {
  /** What one’s own role allows. */
  readonly role: Role;
  /** All roles; what they allow only for whoever builds. */
  readonly roles: readonly { readonly id: string; readonly label: string; readonly definition?: Role }[];
  readonly id: string;
  readonly label: string;
  readonly description: string;
  readonly archived: boolean;
  readonly tables: readonly TableDefinition[];
  readonly forms: readonly ListedForm[];
  readonly accounts: readonly { login: string; displayName: string; role: string; closed: boolean }[];
}

/** The open cabinet and who looks at it; given by the frame. */
interface Office {
  readonly cabinet: CabinetView;
  readonly session: SessionView;
}

const isAction = (right: Right): right is Action => (ACTIONS as readonly string[]).includes(right);

export const OfficeContext = createContext<Office | undefined>(undefined);

export function useOffice() {
  const office = useContext(OfficeContext);
  if (!office) throw new Error('A page of a cabinet is shown inside the frame');
  const { cabinet, session } = office;
  const tables: Tables = useMemo(() => new Map(cabinet.tables.map((table) => [table.id, table])), [cabinet]);
  const rights = session.cabinets.find((one) => one.id === cabinet.id)?.rights ?? [];
  /** Whether one’s role allows something: with the records of a table, or of any. */
  const may = (right: Right, tableId?: TableId): boolean => {
    const table = tableId === undefined ? undefined : tables.get(tableId);
    if (!table || !rights.includes(right)) return tableId === undefined && rights.includes(right);
    if (right === 'history') return rightToHistory(cabinet.role, table) !== 'no';
    return !isAction(right) || rightTo(cabinet.role, right, table) !== 'no';
  };
  return { cabinet, session, tables, may };
}
