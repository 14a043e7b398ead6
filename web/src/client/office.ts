import type { ListedForm, Right, SessionView } from '@fiche/core/api';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import { createContext, useContext, useMemo } from 'react';

/** A cabinet's tables, forms and accounts. */
export interface CabinetView {
  readonly roles: readonly { readonly id: string; readonly label: string }[];
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

export const OfficeContext = createContext<Office | undefined>(undefined);

export function useOffice() {
  const office = useContext(OfficeContext);
  if (!office) throw new Error('A page of a cabinet is shown inside the frame');
  const { cabinet, session } = office;
  const tables: Tables = useMemo(() => new Map(cabinet.tables.map((table) => [table.id, table])), [cabinet]);
  const rights = session.cabinets.find((one) => one.id === cabinet.id)?.rights ?? [];
  return { cabinet, session, tables, may: (right: Right): boolean => rights.includes(right) };
}
