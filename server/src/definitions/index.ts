export {
  type Cabinet,
  DefinitionCache,
  type Definitions,
  loadDefinitions,
  type StoredForm,
  summarise,
  touchCabinet,
} from './definitions.ts';
