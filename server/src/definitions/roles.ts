import type { Role, RoleDefinition } from '@fiche/core/rights';
import type { Transaction } from '../database/index.ts';

/** A role as it is stored: what it allows but for label and rights is one column. */
export interface StoredRole extends Pick<Role, 'id' | 'label' | 'rights' | 'revision'> {
  readonly reach: Omit<Role, 'id' | 'label' | 'rights' | 'revision'>;
}

export const ROLE_JSON = `json_build_object('id', id, 'label', label, 'rights', rights, 'revision', revision, 'reach', reach)`;

export const readRole = ({ reach, ...plain }: StoredRole): Role => ({ ...reach, ...plain });

/** The columns of a role. */
const columnsOf = ({ label, rights, ...reach }: RoleDefinition) => ({
  label,
  rights: [...rights],
  reach: JSON.stringify(reach),
});

/** Adds a role to a cabinet. As the owner. */
export const addRole = (
  owner: Transaction,
  cabinet: string,
  id: string,
  definition: RoleDefinition,
): Promise<unknown> => owner('fiche.role').insert({ cabinet, id, ...columnsOf(definition) });

/** Writes what a role allows. As the owner. */
export const writeRole = (
  owner: Transaction,
  cabinet: string,
  { id, revision, ...definition }: Role,
): Promise<unknown> =>
  owner('fiche.role')
    .where({ cabinet, id })
    .update({ ...columnsOf(definition), revision: revision + 1 });

/** A role of a cabinet as it is now, locked until the end of the transaction. As the owner. */
export async function findRole(owner: Transaction, cabinet: string, id: string): Promise<Role | undefined> {
  const { rows } = await owner.raw<{ rows: { role: StoredRole }[] }>(
    `SELECT ${ROLE_JSON} AS role FROM fiche.role WHERE cabinet = ? AND id = ? FOR UPDATE`,
    [cabinet, id],
  );
  return rows[0] && readRole(rows[0].role);
}
