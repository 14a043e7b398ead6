import { isIndexed } from '@fiche/core/fields';
import type { TableDefinition } from '@fiche/core/tables';
import { Sentence } from '../parts/index.ts';

/** What a table is called, how its records are named, and what it is about. */
export function TitleSentence({
  table,
  onChange,
}: {
  table: TableDefinition;
  onChange(body: object): Promise<boolean>;
}) {
  const titles = table.fields.filter((field) => isIndexed(field));
  const template = table.title?.includes('{') ? table.title : '';
  const labels = (text: string): string =>
    text.replace(/\{([a-z0-9_]+)\}/g, (_all, id) => `{${table.fields.find((field) => field.id === id)?.label ?? id}}`);
  const ids = (text: string): string =>
    text.replace(/\{([^}]*)\}/g, (_all, label: string) => {
      const named = table.fields.find((field) => field.label.toLowerCase() === label.trim().toLowerCase());
      return `{${named?.id ?? label.trim()}}`;
    });
  return (
    <Sentence
      parts={[
        'A record of ',
        {
          key: 'label',
          label: 'label of the table',
          shown: table.label,
          pick: { kind: 'text', current: table.label },
          onSet: (label) => void onChange({ label, revision: table.revision }),
        },
        ' is named by its ',
        {
          key: 'title',
          label: 'field that names a record',
          side: 'choices',
          shown: template
            ? 'fields together'
            : (table.fields.find((field) => field.id === table.title)?.label ?? 'number'),
          pick: {
            kind: 'options',
            options: titles.map((field) => ({ value: field.id, label: field.label })),
            current: table.title ?? '',
          },
          onSet: (title) => void onChange({ title, revision: table.revision }),
        },
        template ? ', as ' : ' (or by ',
        {
          key: 'template',
          label: 'template of the title',
          shown: template ? labels(template) : 'several fields together',
          quiet: template === '',
          pick: {
            kind: 'text',
            current: labels(template),
            hint: `Fields in braces, such as ${titles
              .slice(0, 2)
              .map((field) => `{${field.label}}`)
              .join(', ')}. Enter keeps it.`,
          },
          onSet: (text) => void onChange({ title: text.trim() === '' ? null : ids(text), revision: table.revision }),
        },
        template ? '. It is about: ' : '). It is about: ',
        {
          key: 'description',
          label: 'description of the table',
          shown: table.description || 'not said yet',
          quiet: table.description === '',
          pick: { kind: 'text', current: table.description },
          onSet: (description) => void onChange({ description, revision: table.revision }),
        },
      ]}
    />
  );
}
