import { everyAction, FIRST_ROLES, NO_ROLE } from '@fiche/core/rights';
import { expect, test } from 'vitest';
import { asOthers, choiceOf, choicesFor, extentOf, rightsShown, toggled, withExtent, withLimit } from './roleDraft.ts';

const clerk = FIRST_ROLES.find((one) => one.id === 'clerk') ?? NO_ROLE;

test('a table has the rights of all others until something of it is set, and again when that is taken back', () => {
  expect(rightsShown(clerk, 'stays')).toEqual(everyAction('all'));
  const own = withExtent(clerk, 'stays', 'see', 'own');
  expect(rightsShown(own, 'stays')).toEqual({ ...everyAction('all'), see: 'own' });
  expect(rightsShown(own, 'berths')).toEqual(everyAction('all'));
  const others = withExtent(own, null, 'archive', 'none');
  expect([rightsShown(others, 'stays').archive, rightsShown(others, 'berths').archive]).toEqual(['all', 'none']);
  expect(asOthers(own, 'stays')).toEqual(clerk);
});

test('a field is as it is, read-only or hidden', () => {
  const hidden = withLimit(withLimit(clerk, 'stays', 'note', 'hidden'), 'stays', 'length', 'readOnly');
  expect(rightsShown(hidden, 'stays').fields).toEqual({ note: 'hidden', length: 'readOnly' });
  expect(rightsShown(withLimit(hidden, 'stays', 'note', ''), 'stays').fields).toEqual({ length: 'readOnly' });
});

test('each action offers what makes sense for it', () => {
  expect(choicesFor('see', true)).toEqual(['none', 'own', 'where', 'all']);
  expect(choicesFor('see', false)).toEqual(['none', 'own', 'all']);
  expect(choicesFor('add', true)).toEqual(['none', 'where', 'all']);
  expect(choicesFor('import', true)).toEqual(['none', 'all']);
  for (const choice of choicesFor('see', true)) expect(choiceOf(extentOf(choice))).toBe(choice);
});

test('an item is added and taken out in the order of the list', () => {
  expect(toggled(['build'], 'ledger', true, ['ledger', 'build', 'people'])).toEqual(['ledger', 'build']);
  expect(toggled(['ledger', 'build'], 'ledger', false, ['ledger', 'build', 'people'])).toEqual(['build']);
});
