import { afterAll, beforeAll, expect, test } from 'vitest';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { setPage } from '../fixtures/page.ts';

let office: TestOffice;
let clerk: Client;
let keys = 0;
beforeAll(async () => {
  office = await testOffice();
  clerk = await office.signIn('quayclerk');
  await setPage(office, {
    words: { closed: 'We are closed.' },
    translations: {
      fr: {
        Arrival: 'Arrivée',
        Harbour: 'Port',
        Length: 'Longueur',
        'Thank you.': 'Merci.',
        'We are closed.': 'Nous avons fermé.',
        'Departure must be after arrival.': 'Le départ suit l’arrivée.',
      },
      'pt-BR': { Arrival: 'Chegada' },
    },
  });
});
afterAll(() => office.close());

const asked = (accepted: string) => ({ 'accept-language': accepted });
const open = async (accepted: string, question = '') =>
  (await office.anonymous.call('GET', `/api/public/arrival${question}`, undefined, asked(accepted))).body;
const send = (values: object, accepted: string) =>
  office.anonymous.call(
    'POST',
    '/api/public/arrival/entries',
    { values },
    { 'idempotency-key': `language-key-${++keys}`, ...asked(accepted) },
  );

test('a page is read in the language that its visitor knows best, of those that it has', async () => {
  expect(await open('de-CH, fr;q=0.8, en;q=0.5')).toMatchObject({
    language: 'fr',
    languages: ['en', 'fr', 'pt-BR'],
    label: 'Arrivée',
    office: { locale: 'fr-FR' },
  });
  expect(await open('fr-CA')).toMatchObject({ language: 'fr' });
  expect(await open('pt-BR,pt;q=0.9')).toMatchObject({
    language: 'pt-BR',
    label: 'Chegada',
    office: { locale: 'pt-BR' },
  });
  expect(await open('sv, ja;q=0.1')).toMatchObject({ language: 'en', label: 'Arrival' });
  expect(await open(';;;=,')).toMatchObject({ language: 'en' });
  // What the address names goes before what the browser says; a language that the page lacks changes nothing.
  expect(await open('en', '?lang=fr')).toMatchObject({ language: 'fr' });
  expect(await open('fr', '?by=address&lang=xx')).toMatchObject({ language: 'en' });
});

test('labels, rules and the page’s words are those of the language, and other languages are not sent along', async () => {
  const page = await open('fr');
  const text = JSON.stringify(page);
  expect(text).toContain('Le départ suit l’arrivée.');
  expect(text).toContain('"label":"Port"');
  expect(page.definition.page.thanks).toBe('Merci.');
  expect(text).not.toContain('Chegada');
  expect(JSON.stringify(await open('en'))).not.toContain('Merci.');
});

test('a refusal is said in the language, its numbers written as its readers do', async () => {
  const wrong = await send({ harbour: 1, length: 12.345 }, 'fr');
  expect(wrong.status).toBe(422);
  expect(wrong.body.errors[0]).toMatchObject({
    path: 'length',
    message: expect.stringMatching(/^(Une décimale au plus|2 décimales au plus), par exemple 12,50?\.$/),
  });
  const rule = await send({ harbour: 1, arrival: '2027-03-04T10:00', departure: '2027-03-03T10:00' }, 'fr');
  expect(rule.body.detail).toBe('Le départ suit l’arrivée.');
  expect((await send({}, 'fr')).body.detail).toMatch(/^Rien n’est encore rempli/);
  expect((await send({}, 'en')).body.detail).toMatch(/^Nothing is answered yet/);
});

test('many readers of different languages at once are each answered in theirs', async () => {
  const sent = await Promise.all(
    Array.from({ length: 12 }, (_, n) =>
      send({}, ['fr', 'en', 'pt-BR'][n % 3] ?? 'en').then(({ body }) => body.detail),
    ),
  );
  for (const [n, detail] of sent.entries())
    expect(detail).toMatch(n % 3 === 0 ? /^Rien n’est encore rempli/ : /^Nothing is answered yet/);
});

test('the office reads its own language: in the ledger, in lists and in refusals', async () => {
  const { body } = await send({ harbour: 1, note: 'in French' }, 'fr');
  const { answers } = (await clerk.call('GET', '/api/forms/quay_arrival/answers')).body;
  expect(answers[0]).toMatchObject({ reference: body.reference });
  const record = answers[0].records[0].record;
  const history = await clerk.call('GET', `/api/tables/quay_stays/records/${record}/history`, undefined, asked('fr'));
  expect(JSON.stringify(history.body)).toContain('"through":"Arrival, version 2');
  expect(JSON.stringify(history.body)).not.toContain('Arrivée');
  const refused = await clerk.call(
    'POST',
    '/api/tables/quay_stays/entries',
    { values: { harbour: 1, length: 12.345 } },
    { 'idempotency-key': 'language-of-staff', ...asked('fr') },
  );
  expect(JSON.stringify(refused.body)).toContain('such as 12.5');
});

test('a page of one language speaks it to everybody; while it is closed, too', async () => {
  await setPage(office, { language: 'de', when: { opens: null, closes: '2026-01-01T00:00' } });
  expect(await open('fr')).toMatchObject({
    language: 'de',
    languages: ['de'],
    words: 'Diese Seite ist geschlossen und nimmt keine Antworten mehr an.',
  });
});

test('a confirmation is written in the language of its answer, and leads back to it in that language', async () => {
  const builder = await office.signIn('harbourmaster');
  await builder.call('POST', '/api/tables/quay_stays/fields', { field: { label: 'E-mail', type: 'email' } });
  const { body: draft } = await builder.call('GET', '/api/forms/quay_arrival/draft');
  const [first] = draft.definition.sections;
  const sections = [{ ...first, items: [...first.items, { field: 'e_mail' }] }];
  await builder.call('PUT', '/api/forms/quay_arrival/draft', {
    definition: { ...draft.definition, sections },
    revision: draft.revision,
  });
  await setPage(office, {
    corrections: { until: null },
    confirmation: { to: 'e_mail', subject: 'Your stay {reference}', text: '{values}\n\n{link}' },
    translations: { fr: { 'Your stay {reference}': 'Votre séjour {reference}', Note: 'Remarque', Length: 'Longueur' } },
  });
  const { body } = await send({ harbour: 1, length: 11.5, note: 'confirmé', e_mail: 'ada@tern.example' }, 'fr');
  const { messages } = (await builder.call('GET', '/api/cabinets/quay/messages')).body;
  const [sent] = messages.filter((one: { kind: string }) => one.kind === 'confirmation');
  expect(sent.subject).toBe(`Votre séjour ${body.reference}`);
  expect(sent.body).toContain('Longueur: 11,5\n');
  expect(sent.body).toContain('Remarque: confirmé');
  // What was chosen is told by its title.
  expect(sent.body).toContain('Harbour: Gannet Quay');
  expect(sent.body).toContain(`/p/arrival?lang=fr#receipt=${body.receipt}`);
});
