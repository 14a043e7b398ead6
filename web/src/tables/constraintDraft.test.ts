import { newFieldSchema, type TableDefinition } from '@fiche/core/tables';
import { describe, expect, test } from 'vitest';
import { type ConstraintDraft, fieldsFor, openingOf, readDraft } from './constraintDraft.ts';

const field = (id: string, type: string) => ({ ...newFieldSchema.parse({ label: id, type }), id });
const table = {
  id: 'hauls',
  label: 'Hauls',
  fields: [
    field('ramp', 'text'),
    field('day', 'date'),
    field('until', 'date'),
    field('at', 'dateTime'),
    field('weight', 'decimal'),
    field('stars', 'rating'),
    field('notes', 'longText'),
    field('photos', 'attachments'),
  ],
} as unknown as TableDefinition;
const draft = (kind: ConstraintDraft['kind'], slots: ConstraintDraft['slots'], message = 'Full.'): ConstraintDraft => ({
  kind,
  slots,
  message,
});

describe('a rule between records while it is written', () => {
  test('begins with the words of its kind, and goes on with the rest of its sentence', () => {
    expect(openingOf('unique').opening).toBe('No two records have the same');
    expect(openingOf('atMost').opening).toBe('At most');
    expect(openingOf('atMost').rest[0]).toMatchObject({ sets: 'most' });
  });

  test('takes fields of one comparable value, and only days where days are counted', () => {
    const ids = (families?: ('date' | 'dateTime' | 'number')[]) => fieldsFor(table, { families }).map(({ id }) => id);
    expect(ids()).toEqual(['ramp', 'day', 'until', 'at', 'weight', 'stars']);
    expect(ids(['date', 'dateTime'])).toEqual(['day', 'until', 'at']);
    expect(ids(['number'])).toEqual(['weight', 'stars']);
  });

  test('is a rule once every slot that must be filled is', () => {
    expect(readDraft(table, draft('atMost', {}))).toEqual({ missing: true });
    expect(readDraft(table, draft('atMost', { most: '2', same: ['ramp'], from: 'day' })).constraint).toEqual({
      kind: 'atMost',
      id: 'atmost_2_ramp_day',
      most: 2,
      same: ['ramp'],
      from: 'day',
      to: null,
      message: 'Full.',
    });
    expect(readDraft(table, draft('noOverlap', { same: ['ramp'], from: 'day', to: 'until' })).constraint).toMatchObject(
      { kind: 'noOverlap', to: 'until' },
    );
    expect(readDraft(table, draft('unique', { fields: ['ramp', 'day'] }, ' ')).constraint).toBeUndefined();
  });

  test.each([
    [draft('atMost', { most: 'two', same: [], from: 'day' }), 'Say how many records may fall on one day.'],
    [draft('atMost', { most: '0', same: [], from: 'day' }), 'Give at least 1.'],
    [draft('unique', { fields: ['ramp'] }), 'Choose at least two fields; for one, make the field unique.'],
    [draft('noOverlap', { same: [], from: 'day', to: 'at' }), 'The two ends of a range must be of one kind.'],
    [draft('noOverlap', { same: [], from: 'day', to: 'day' }), 'A range needs two different fields.'],
  ])('says in words what cannot be: %o', (written, words) => {
    const { constraint, problem } = readDraft(table, written);
    expect(constraint).toBeUndefined();
    expect(problem).toBe(words);
  });
});
