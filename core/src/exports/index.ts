export { type CabinetFile, cabinetFileJsonSchema, cabinetFileSchema, renameTables } from './cabinetFile.ts';
export {
  EXPORT_FORMATS,
  type ExportFormat,
  type ExportSettings,
  exportFormatSchema,
  exportSettingsSchema,
  exportSettingsShape,
} from './formats.ts';
