import { loadExpressions } from '@fiche/core/expressions';
import { loadPatterns } from '@fiche/core/fields';

export { asSeenBy } from './asSeenBy.ts';
export {
  type Cabinet,
  DefinitionCache,
  type Definitions,
  loadDefinitions,
  loadTable,
  type Seen,
  type StoredForm,
  summarise,
  touchCabinet,
} from './definitions.ts';
export { requireInUse } from './inUse.ts';
export { addRole, findRole, writeRole } from './roles.ts';
export { refuseForeignTables, withinCabinet } from './withinCabinet.ts';

// Whoever reads definitions may have to match the patterns in them.
await Promise.all([loadPatterns(), loadExpressions()]);

export { keepOffice } from './office.ts';
