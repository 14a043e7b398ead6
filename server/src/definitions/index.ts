export {
  type Cabinet,
  DefinitionCache,
  type Definitions,
  type FormRow,
  loadDefinitions,
  summarise,
  touchCabinet,
} from './definitions.ts';
