import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { buildApp } from '../app.ts';
import { type TestOffice, testOffice } from '../fixtures/office.ts';
import { readOfficeLanguages } from './office.ts';

let folder: string;
let office: TestOffice;
let app: Awaited<ReturnType<typeof buildApp>>;
const TEXTS = {
  'This text has a character that cannot be stored. Type it again.': 'Ce texte ne peut pas être gardé.',
  'Give it a label.': 'Donnez-lui un nom.',
  '{count} records_one': 'un dossier',
  '{count} records_other': '{count} dossiers',
};
const put = (file: string, texts: unknown): void =>
  writeFileSync(join(folder, file), typeof texts === 'string' ? texts : JSON.stringify(texts));

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'fiche-languages-'));
  put('en.json', { Save: 'Save' });
  put('fr.json', TEXTS);
  put('pt-BR.json', { Save: 'Salvar' });
  office = await testOffice();
  app = await buildApp({ services: { ...office.services, languages: readOfficeLanguages(folder) } });
});
afterAll(async () => {
  await app.close();
  await office.close();
  rmSync(folder, { recursive: true });
});

const asked = async (headers: Record<string, string>) => (await app.inject({ url: '/api/languages', headers })).json();

test('a catalogue in the folder is a language of the screens: the one a browser keeps, else the first that it names', async () => {
  expect(await asked({})).toEqual({ language: 'en', languages: ['en', 'fr', 'pt-BR'], texts: {} });
  expect(await asked({ 'accept-language': 'fr-CH, en;q=0.5' })).toMatchObject({ language: 'fr', texts: TEXTS });
  expect(await asked({ 'accept-language': 'pt-BR' })).toMatchObject({ language: 'pt-BR', texts: { Save: 'Salvar' } });
  expect(await asked({ 'accept-language': 'sv, ja' })).toMatchObject({ language: 'en' });
  expect(await asked({ cookie: 'fiche_language=fr', 'accept-language': 'pt-BR' })).toMatchObject({ language: 'fr' });
  expect(await asked({ cookie: 'fiche_language=nobody', 'accept-language': 'fr' })).toMatchObject({ language: 'fr' });
  expect(await asked({ cookie: 'fiche_language=en', 'accept-language': 'fr' })).toMatchObject({ language: 'en' });
});

test('a refusal is said in the language of who asks; without a translation, in English', async () => {
  const tried = async (login: string, language: string) => {
    const payload = { login, password: 'wrong' };
    const headers = { 'accept-language': language };
    return (await app.inject({ method: 'POST', url: '/api/session', payload, headers })).json();
  };
  expect((await tried('nobody\u0000', 'fr')).detail).toBe(
    TEXTS['This text has a character that cannot be stored. Type it again.'],
  );
  expect((await tried('nobody\u0000', 'en')).detail).toMatch(/^This text has a character/);
  expect((await tried('nobody', 'fr')).detail).toBe((await tried('nobody', 'en')).detail);
});

test('a file that is no catalogue is named, with what to do about it', () => {
  const wrong = (file: string, texts: unknown): string => {
    put(file, texts);
    try {
      readOfficeLanguages(folder);
      return 'read';
    } catch (error) {
      return (error as Error).message;
    } finally {
      rmSync(join(folder, file));
    }
  };
  expect(wrong('french.json', {})).toBe(
    'The catalogue french.json is not called after a language. Call it fr.json or pt-BR.json, say.',
  );
  expect(wrong('it.json', '{')).toBe('The catalogue it.json is no JSON. Correct it, or take it away.');
  expect(wrong('it.json', { Save: 1 })).toMatch(/^The catalogue it\.json has to hold texts by English texts/);
  expect(wrong('it.json', { Save: 'Salva' })).toBe('read');
  expect(readOfficeLanguages(join(folder, 'nowhere')).names).toEqual(['en']);
});
