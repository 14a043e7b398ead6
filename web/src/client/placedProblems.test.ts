import { describe, expect, test } from 'vitest';
import { ServerProblem } from './http.ts';
import { blankProblems, placedProblems } from './placedProblems.ts';

const refusal = (...paths: string[]) =>
  new ServerProblem({
    type: 'about:blank',
    title: 'Not accepted',
    status: 422,
    detail: 'Something does not fit.',
    errors: paths.map((path) => ({ path, rule: 'form', message: `Mend ${path}.` })),
  });

describe('the problems of a refused form', () => {
  test('stand at the fields that it has, and then nothing is said besides', () => {
    expect(placedProblems(refusal('login', 'elsewhere'), ['login', 'role'])).toEqual({
      at: { login: 'Mend login.' },
      trouble: '',
    });
  });

  test('are said for the whole where no field is to blame: another path, no path, no connection', () => {
    expect(placedProblems(refusal('elsewhere'), ['login'])).toEqual({ at: {}, trouble: 'Something does not fit.' });
    expect(placedProblems(refusal(), ['login']).trouble).toBe('Something does not fit.');
    expect(placedProblems(new Error('No connection.'), ['login']).trouble).toBe('No connection.');
  });

  test('a field that is blank or only spaces is required, in the order of the form', () => {
    expect(
      blankProblems({ login: ' ', role: 'clerk' }, { login: 'Login', displayName: 'Display name', role: 'A role' }),
    ).toEqual({
      at: { login: 'Login is required.', displayName: 'Display name is required.' },
      trouble: '',
    });
  });
});
