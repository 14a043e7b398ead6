export { type CabinetFile, cabinetFileJsonSchema, cabinetFileSchema, renameTables } from './cabinetFile.ts';
