import { all, EVERYTHING, is } from '@fiche/core/conditions';
import { everyAction } from '@fiche/core/rights';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { addLimitedRoles, LIMITED_ROLES } from '../fixtures/limitedRoles.ts';
import { type Answer, type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { verifyLedger } from '../history/index.ts';
import { sendDue } from '../messages/sending.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
const owner = () => office.database.databases.owner;
const form = (path: string) => ({ kind: 'form', path });
const blank = (path: string) => ({ kind: 'compare', left: form(path), operator: 'isNotBlank' });

/** When a stay has or had a note: a line in *Notes kept*. */
const notes = {
  id: 'notes',
  label: 'Notes kept',
  on: ['added', 'changed'],
  fields: ['note'],
  when: { kind: 'group', match: 'any', of: [blank('note'), blank('before__note')] },
  effects: [
    {
      does: 'add',
      table: 'quay_notes_kept',
      values: [
        { to: 'stay', from: { kind: 'record' } },
        { to: 'before', from: { kind: 'field', path: 'before__note' } },
        { to: 'after', from: { kind: 'field', path: 'note' } },
        { to: 'harbour', from: { kind: 'field', path: 'harbour.name' } },
        { to: 'by', from: { kind: 'account' } },
        { to: 'at', from: { kind: 'now' } },
        { to: 'change', from: { kind: 'summary' } },
      ],
    },
  ],
};
/** When a note is kept: its stay says how long the note is. */
const counted = {
  id: 'counted',
  label: 'Counted',
  on: ['added'],
  when: EVERYTHING,
  effects: [
    { does: 'change', link: 'stay', values: [{ to: 'persons', from: { kind: 'calculation', source: 'size(after)' } }] },
  ],
};

const setRipples = (table: string, ...ripples: object[]) => builder.call('PATCH', `/api/tables/${table}`, { ripples });
/** The lines of *Notes kept*, as they were written. */
const kept = async (): Promise<Record<string, unknown>[]> => owner()('data.quay_notes_kept').orderBy('id');
const ofStay = async (id: number): Promise<Record<string, unknown>> => owner()('data.quay_stays').where({ id }).first();

let keys = 0;
const save = (
  values: object,
  more: object = {},
  who = clerk,
  url = '/api/tables/quay_stays/entries',
): Promise<Answer> =>
  who.call('POST', url, { values: { harbour: 1, ...values }, ...more }, { 'idempotency-key': `ripple-${++keys}-000` });
const add = async (values: object, who = clerk): Promise<number> => {
  const { status, body } = await save(values, {}, who);
  expect(status, JSON.stringify(body)).toBe(200);
  return body.record?.id;
};
const change = async (record: number, values: object, who = clerk): Promise<Answer> =>
  save(values, { record, version: Number((await ofStay(record)).version) }, who);

beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
  const { body } = await builder.call('POST', '/api/cabinets/quay/tables', { label: 'Notes kept' });
  expect(body.id).toBe('quay_notes_kept');
  for (const field of [
    { label: 'Stay', type: 'link', settings: { table: 'quay_stays' }, required: true },
    { label: 'Before', type: 'text' },
    { label: 'After', type: 'text', settings: { mostLength: 30 } },
    { label: 'Harbour', type: 'text' },
    { label: 'By', type: 'text', required: true },
    { label: 'At', type: 'dateTime', required: true },
    { label: 'Change', type: 'longText' },
  ])
    expect((await builder.call('POST', '/api/tables/quay_notes_kept/fields', { field })).status).toBe(200);
  await addLimitedRoles(office, {
    ...LIMITED_ROLES,
    unaware: { ...LIMITED_ROLES.blind, label: 'Unaware', tables: { quay_notes_kept: everyAction('none') } },
  });
});
afterAll(async () => {
  expect((await verifyLedger(owner())).misfits).toEqual([]);
  await office.close();
});
beforeEach(async () => {
  for (const [table, ...ripples] of [['quay_stays', notes], ['quay_notes_kept']] as const) {
    const set = await setRipples(table, ...ripples);
    expect(set.status, JSON.stringify(set.body)).toBe(200);
  }
});

describe('a ripple is run in the save', () => {
  test('of a card, with what stood there before and after, what changed in words, and what is behind links', async () => {
    const stay = await add({ note: 'Storm' });
    await change(stay, { note: 'Swell' });
    await change(stay, { persons: 4 });
    await change(stay, { note: null });
    await change(stay, { persons: 5 });
    const number = String((await ofStay(stay)).number);
    expect((await kept()).filter((one) => Number(one.stay) === stay)).toMatchObject([
      {
        before: null,
        after: 'Storm',
        harbour: 'Gannet Quay',
        by: 'quayclerk',
        change: expect.stringContaining('Note: Storm'),
      },
      { before: 'Storm', after: 'Swell', change: `${number} changed. Note: Storm → Swell` },
      { before: 'Swell', after: null, change: `${number} changed. Note: Swell → blank`, created_by: 'quayclerk' },
    ]);
  });

  test('of a form, a public page, a change of many, an import, and by a token', async () => {
    const before = (await kept()).length;
    await save({ note: 'by a form' }, {}, clerk, '/api/forms/quay_check_in/entries');
    await save({ note: 'by a page' }, {}, office.anonymous, '/api/public/arrival/entries');
    const stay = await add({});
    const planned = await builder.call('POST', '/api/tables/quay_stays/changes', {
      what: { kind: 'set', set: [{ field: 'note', becomes: { kind: 'value', value: 'by many' } }] },
      records: { kind: 'some', ids: [stay] },
    });
    await office.services.tasks.idle();
    await builder.call('POST', `/api/tables/quay_stays/changes/${planned.body.id}/run`, { records: 'all' });
    await office.services.tasks.idle();
    const { body: file } = await builder.send(
      '/api/cabinets/quay/imports?file=stays.csv',
      'Harbour,Note\nGannet Quay,by an import\n',
    );
    const column = (at: number, name: string, field: string) => ({ name, at, to: { kind: 'field', field } });
    const plan = {
      reading: { kind: 'csv' },
      into: { kind: 'table', table: 'quay_stays' },
      columns: [{ ...column(0, 'Harbour', 'harbour'), matchOn: 'name' }, column(1, 'Note', 'note')],
    };
    const checked = await builder.call('POST', `/api/cabinets/quay/imports/${file.id}/check`, { plan });
    expect(checked.status, JSON.stringify(checked.body)).toBe(200);
    await office.services.tasks.idle();
    await builder.call('POST', `/api/cabinets/quay/imports/${file.id}/run`, { rows: 'all' });
    await office.services.tasks.idle();
    expect((await kept()).slice(before).map((one) => [one.after, one.by])).toEqual([
      ['by a form', 'quayclerk'],
      ['by a page', 'page:arrival'],
      ['by many', 'harbourmaster'],
      ['by an import', 'harbourmaster'],
    ]);
  });

  test('of a record taken out of use and back, where it is for these', async () => {
    await setRipples('quay_stays', { ...notes, on: ['archived', 'restored'], when: EVERYTHING });
    const stay = await add({ note: 'Storm' });
    for (const act of ['archive', 'restore']) {
      const { version } = await ofStay(stay);
      const { status } = await clerk.call('POST', `/api/tables/quay_stays/records/${stay}/${act}`, {
        version: Number(version),
      });
      expect(status).toBe(200);
    }
    const number = String((await ofStay(stay)).number);
    expect((await kept()).filter((one) => Number(one.stay) === stay).map((one) => one.change)).toEqual([
      `${number} archived`,
      `${number} restored`,
    ]);
  });

  test('sets off the ripples of what it writes, and the answer has the record as it is after them', async () => {
    await setRipples('quay_notes_kept', counted);
    const { body } = await save({ note: 'Storm' });
    expect(body.record.values.persons).toBe(5);
    const again = await change(body.record.id, { note: 'Swell swell' });
    expect([again.status, again.body.record.values.persons, again.body.record.stamp.version]).toEqual([
      200,
      11,
      undefined,
    ]);
    // What is saved next is saved over what the ripple wrote.
    expect((await change(body.record.id, { note: 'x' })).body.record.values.persons).toBe(1);
  });

  test('leads back: the line that it wrote says which ripple wrote it, and to which save it belongs', async () => {
    const stay = await add({ note: 'Storm' });
    const [line] = (await kept()).slice(-1);
    const written = (await builder.call('GET', `/api/tables/quay_notes_kept/records/${line?.id}/history`)).body
      .lines[0];
    const saved = (await builder.call('GET', `/api/tables/quay_stays/records/${stay}/history`)).body.lines[0];
    expect(written).toMatchObject({
      through: 'Ripple Notes kept',
      account: 'quayclerk',
      transaction: saved.transaction,
      follows: { table: 'quay_stays', record: stay, title: saved.title },
    });
    expect(saved.wrote).toEqual([
      { table: 'quay_notes_kept', record: Number(line?.id), title: written.title, what: 'Notes kept' },
    ]);
    // Somebody who does not see where it writes is not told.
    const unaware = await office.signIn('theunaware');
    expect((await unaware.call('GET', `/api/tables/quay_stays/records/${stay}/history`)).body.lines[0].wrote).toEqual(
      [],
    );
  });
});

describe('a ripple that cannot write what it has to', () => {
  test('refuses the save, and says which ripple and why; nothing is there', async () => {
    const before = (await kept()).length;
    const { status, body } = await save({ note: 'far too long for the field that it goes to' });
    expect([status, body.detail]).toEqual([
      422,
      'This save of STAY-2026-00000 sets off the ripple “Notes kept”, and it cannot write to Notes kept: After: Type at most 30 characters; this has 42.'.replace(
        'STAY-2026-00000',
        /STAY-\d+-\d+/.exec(body.detail)?.[0] ?? '',
      ),
    ]);
    expect((await kept()).length).toBe(before);
    expect(await owner()('data.quay_stays').where({ note: 'far too long for the field that it goes to' })).toEqual([]);
  });

  test('tells nothing of it on a public page', async () => {
    const url = '/api/public/arrival/entries';
    const { status, body } = await save(
      { note: 'far too long for the field that it goes to' },
      {},
      office.anonymous,
      url,
    );
    expect([status, body.detail]).toEqual([
      422,
      'This cannot be sent as it is: records of the office stand against it. Please tell the office.',
    ]);
  });

  test('names no table to somebody who does not see it', async () => {
    const unaware = await office.signIn('theunaware');
    const { status, body } = await save({ note: 'far too long for the field that it goes to' }, {}, unaware);
    expect(status).toBe(422);
    expect(body.detail).toContain(
      'the ripple “Notes kept”, and it cannot write what it has to, in a place that you do not see.',
    );
    expect(body.detail).not.toContain('Type at most');
    // What fits is written for them all the same.
    expect(await add({ note: 'short' }, unaware)).toBeGreaterThan(0);
    expect((await kept()).at(-1)).toMatchObject({ after: 'short', by: 'theunaware' });
  });

  test('is refused while it is built: a circle over three tables, a field that has gone, a required field without a source', async () => {
    const back = {
      ...counted,
      on: ['added'],
      effects: [
        {
          does: 'add',
          table: 'quay_stays',
          values: [{ to: 'harbour', from: { kind: 'field', path: 'stay.harbour' } }],
        },
      ],
    };
    const circle = await setRipples('quay_notes_kept', back);
    expect([circle.status, circle.body.detail]).toEqual([
      422,
      'These ripples would set off one another without end: Notes kept (Stays) → Counted (Notes kept) → Notes kept (Stays). Take one of them away, or limit it to other fields.',
    ]);
    const lacking = { ...notes, effects: [{ ...notes.effects[0], values: notes.effects[0]?.values.slice(1) }] };
    expect((await setRipples('quay_stays', lacking)).body.detail).toBe(
      'Notes kept: Stay of Notes kept is required. Say what it gets.',
    );
    const retired = await builder.call('POST', '/api/tables/quay_notes_kept/fields/harbour/retire', {});
    expect([retired.status, retired.body.detail]).toEqual([
      409,
      'A ripple would not work any more. Ripple Notes kept of Stays: harbour is not a field of Notes kept any more. Remove it. Change the ripple first.',
    ]);
    const archived = await builder.call('PATCH', '/api/tables/quay_notes_kept', { archived: true });
    expect(archived.body.detail).toContain('the ripple Notes kept of Stays');
  });
});

describe('a message', () => {
  test('goes into the outbox with the values of the record, to an address in a field or to an account', async () => {
    await asActor(owner(), { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } }, (write) =>
      write.raw("UPDATE fiche.account SET email = 'clerk@quay.example' WHERE login = 'quayclerk'"),
    );
    const told = {
      ...notes,
      id: 'told',
      label: 'Told',
      effects: [
        {
          does: 'message',
          to: { kind: 'account', login: 'quayclerk' },
          subject: 'A note on {number}',
          text: '{note}, in {harbour.name}',
        },
      ],
    };
    expect((await setRipples('quay_stays', told)).status).toBe(200);
    const stay = await add({ note: 'Storm' });
    const { number } = await ofStay(stay);
    expect(await owner()('fiche.message').orderBy('id', 'desc').first()).toMatchObject({
      kind: 'ripple',
      login: 'quayclerk',
      subject: `A note on ${number}`,
      body: 'Storm, in Gannet Quay',
      about: [{ table: 'quay_stays', record: stay }],
    });
    // Without a mail server it is kept. With one it goes to the address that the account has then.
    const sent: { to: string }[] = [];
    await owner()('fiche.message').update({ state: 'waiting' });
    const send = async (one: { to: string }) => void sent.push(one);
    expect(await sendDue(owner(), { send } as unknown as Parameters<typeof sendDue>[1])).toBe(1);
    expect(sent).toMatchObject([{ to: 'clerk@quay.example' }]);
  });

  const told = (to: object, text = '{change}') => ({
    ...notes,
    id: 'told',
    label: 'Told',
    fields: [],
    when: EVERYTHING,
    effects: [{ does: 'message', to, subject: 'Told', text }],
  });
  const clerks = { kind: 'account', login: 'quayclerk' };

  test('is of the table whose save sent it, where ripples of two tables have the same id', async () => {
    for (const table of ['quay_berths', 'quay_stays'])
      expect((await setRipples(table, told(clerks))).status, table).toBe(200);
    const stay = await add({ note: 'Storm' });
    expect(await owner()('fiche.message').orderBy('id', 'desc').first()).toMatchObject({
      about: [{ table: 'quay_stays', record: stay }],
    });
    expect((await setRipples('quay_berths')).status).toBe(200);
  });

  test('names linked records by their titles, also those that the save did not change', async () => {
    expect((await setRipples('quay_stays', told(clerks, '{harbour} before {before__harbour}, {note}'))).status).toBe(
      200,
    );
    const stay = await add({ note: 'Storm' });
    await change(stay, { note: 'Swell' });
    expect(await owner()('fiche.message').orderBy('id', 'desc').first()).toMatchObject({
      body: 'Gannet Quay before Gannet Quay, Swell',
    });
  });

  test('to an account that the cabinet does not have is refused while it is built; a paused ripple may wait for it', async () => {
    const nobody = told({ kind: 'account', login: 'nobody' });
    const refused = await setRipples('quay_stays', nobody);
    expect([refused.status, refused.body.errors]).toMatchObject([
      422,
      [{ message: 'Told: nobody is no account of this cabinet. Choose another, or pause the ripple.' }],
    ]);
    expect((await setRipples('quay_stays', { ...nobody, paused: true })).status).toBe(200);
  });
});

describe('a builder', () => {
  test('tries a ripple on the last save of a record; nothing is written', async () => {
    const stay = await add({ note: 'Storm' });
    const before = (await kept()).length;
    const tried = await builder.call('POST', '/api/tables/quay_stays/ripple-trial', { ripple: notes, record: stay });
    expect(tried.body).toMatchObject({
      save: { kind: 'added', account: 'quayclerk' },
      follows: true,
      problem: null,
      effects: [{ does: 'add', to: 'Notes kept' }],
    });
    expect(tried.body.effects[0].values).toContainEqual({ label: 'After', value: 'Storm' });
    expect(tried.body.effects[0].values).toContainEqual({ label: 'Before', value: 'blank' });
    const never = { ...notes, when: all(is({ kind: 'form', path: 'note' }, { kind: 'constant', value: 'x' })) };
    const not = await builder.call('POST', '/api/tables/quay_stays/ripple-trial', { ripple: never, record: stay });
    expect(not.body.follows).toBe(false);
    const wrong = {
      ...notes,
      effects: [
        {
          ...notes.effects[0],
          table: 'quay_berths',
          values: [
            { to: 'number', from: { kind: 'account' } },
            { to: 'longest', from: { kind: 'value', value: 'long' } },
          ],
        },
      ],
    };
    expect(
      (await builder.call('POST', '/api/tables/quay_stays/ripple-trial', { ripple: wrong, record: stay })).status,
    ).toBe(422);
    expect((await kept()).length).toBe(before);
  });

  test('is shown the saves that it should have followed: those of a direct database session', async () => {
    const missed = async () => (await builder.call('GET', '/api/tables/quay_stays/ripples/notes/missed')).body;
    const [stay, other] = [await add({ note: 'Storm' }), await add({})];
    await change(stay, { note: 'Swell' });
    expect((await missed()).saves).toEqual([]);
    await owner().raw('UPDATE data.quay_stays SET note = ? WHERE id = ?', ['by hand', stay]);
    await owner().raw('UPDATE data.quay_stays SET persons = 3 WHERE id = ?', [other]);
    await change(stay, { note: 'after' });
    const { saves, looked, more } = await missed();
    expect(saves).toMatchObject([
      { record: stay, through: 'direct database session', account: expect.stringMatching(/^db:/) },
    ]);
    expect([looked > 4, more]).toEqual([true, false]);
  });

  test('is not shown a save as missed after which there was nothing to write', async () => {
    expect((await setRipples('quay_notes_kept', counted)).status).toBe(200);
    const stay = await add({ persons: 5, note: 'Storm' });
    expect(Number((await ofStay(stay)).persons)).toBe(5);
    const { body } = await builder.call('GET', '/api/tables/quay_notes_kept/ripples/counted/missed');
    expect(body).toMatchObject({ saves: [] });
    expect(body.looked).toBeGreaterThan(0);
  });

  test('reads in the ledger what a ripple does, as a sentence', async () => {
    await setRipples('quay_notes_kept', { ...counted, paused: true });
    const { body } = await builder.call('GET', '/api/cabinets/quay/ledger');
    const said = JSON.stringify(body);
    expect(said).toContain(
      'Counted (paused): When a record of Notes kept is added: change the record at Stay: Persons = size(after).',
    );
  });
});
