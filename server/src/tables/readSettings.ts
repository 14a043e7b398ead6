import { fieldType, type Settings } from '@fiche/core/fields';
import { unacceptable } from '../http/index.ts';

/** Settings as a field type takes them; 422 with each problem at its place. */
export function readSettings(type: string, settings: Settings): Settings {
  const read = fieldType(type).settingsSchema.safeParse(settings);
  if (read.success) return read.data;
  throw unacceptable(
    read.error.issues.map((issue) => ({
      path: ['settings', ...issue.path].join('.'),
      rule: 'form',
      message: issue.message,
    })),
  );
}
