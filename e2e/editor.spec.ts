import { expect, test } from '@playwright/test';
import { Builder, card, makeForm, makeTable, outline, publish, slip, writeFormula } from './builder.ts';
import { choose, expectAccessible, field, fill, input, offers, said, signIn } from './office.ts';

test.describe.configure({ mode: 'serial' });

test('a new builder: from a table to a published form, each thing in few actions, counted', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  const level = (column: string) => ({ level: { table: 'gannet_faults', column } });
  await makeTable(page, 'Callouts', [
    { label: 'Harbour', type: 'link', settings: { table: 'gannet_harbours' } },
    { label: 'Pontoon', type: 'link', settings: { table: 'gannet_pontoons' } },
    { label: 'System', type: 'choice', settings: level('system') },
    { label: 'Part', type: 'choice', settings: level('part') },
    { label: 'Defect', type: 'choice', settings: level('defect') },
    { label: 'Registration', type: 'text' },
    { label: 'Vessel', type: 'link', settings: { table: 'gannet_vessels' } },
    { label: 'Length', type: 'decimal', settings: { places: 2 } },
    { label: 'Owner’s phone', type: 'text' },
    { label: 'Called at', type: 'dateTime' },
    { label: 'Done at', type: 'dateTime' },
    { label: 'Persons', type: 'wholeNumber' },
    { label: 'Diver needed', type: 'yesNo' },
    { label: 'Diver’s name', type: 'text' },
  ]);
  await makeForm(page, 'Callouts', 'Call out', 'all fields of the table');
  const builder = new Builder(page);

  // Three levels of one option list need nothing: every level above counts.
  await builder.select('Defect');
  await expect(slip(page)).toContainText('Every level above counts: System and Part.');

  // Two tables.
  await builder.select('Pontoon');
  await builder.click('Narrow it by another field');
  await expect(slip(page)).toContainText('Offer Pontoons whose Harbour is this form’s Harbour');
  builder.atMost(3, 'dropdown narrowed by another table’s field');

  // A key that fills three fields.
  await builder.select('Registration');
  await builder.set(/^table to look in/, 'Vessels');
  await expect(slip(page)).toContainText('the record of Vessels whose Registration it is fills');
  for (const pair of [
    'Vessel with the record itself',
    'Length with its Length',
    'Owner’s phone with its Owner › Phone',
  ])
    await expect(slip(page)).toContainText(`this form’s ${pair}`);
  builder.atMost(3, 'key that fills three fields');

  // A rule that stops.
  await builder.select('Done at');
  await builder.click('Add a rule that stops');
  await builder.pick('Called at');
  await expect(slip(page)).toContainText('Stop unless Done at is after Called at.');
  await expect(slip(page)).toContainText('Message: “Done at must be after Called at.”');
  builder.atMost(4, 'rule that stops');

  // A rule that asks.
  await builder.select('Persons');
  await builder.click('Add a rule that asks for a reason');
  await builder.pick('8');
  await expect(slip(page)).toContainText('Ask for a reason unless Persons is at most 8.');
  builder.atMost(4, 'rule that asks for a reason');

  // A rule that holds under a condition only.
  await builder.select('Length');
  await builder.click('Add a rule that stops');
  await builder.pick('20');
  await builder.click(/^Only when…/);
  await builder.pick('Diver needed');
  await expect(slip(page)).toContainText(/Stop, only when Diver needed is yes,.*unless Length is at most 20/);
  builder.atMost(4, 'rule under a condition');

  // Shown when.
  await builder.select('Diver’s name');
  await builder.click('Show it only when…');
  await builder.pick('yes');
  await expect(slip(page)).toContainText('Show Diver’s name only when Diver needed is yes.');
  builder.atMost(4, 'field shown under a condition');
  await expectAccessible(page);

  // Tried where it is built: the word under two branches is not mixed up.
  await choose(page, 'System', 'Shore');
  await choose(page, 'Part', 'Lighting');
  const ashore = await offers(page, 'Defect');
  await choose(page, 'System', 'Pontoon');
  // It stands there, too, so it stays.
  await expect(input(page, 'Part')).toHaveValue('Lighting');
  const afloat = await offers(page, 'Defect');
  expect(ashore.length).toBeGreaterThan(0);
  expect(afloat.some((word) => ashore.includes(word))).toBe(false);
  await expect(page.getByText('Check: no problems')).toBeVisible();
  await publish(page, 1, 'Call out');

  // Filled: narrowed, filled in, refused, asked, shown.
  await page.getByRole('link', { name: 'Fill version 1' }).click();
  await choose(page, 'Harbour', 'Skerry Haven');
  expect(await offers(page, 'Pontoon')).toEqual(['A', 'B', 'C', 'D']);
  await fill(page, 'Registration', 'GS-0421');
  await page.keyboard.press('Tab');
  await expect(input(page, 'Length')).not.toHaveValue('');
  await expect(input(page, 'Owner’s phone')).not.toHaveValue('');
  await expect(field(page, 'Diver’s name')).toHaveCount(0);
  await field(page, 'Diver needed').getByLabel('yes').check();
  await fill(page, 'Diver’s name', 'Una Stroma');
  await fill(page, 'Called at', '17 Nov 2026 15:30');
  await fill(page, 'Done at', '17 Nov 2026 14:00');
  await fill(page, 'Persons', '9');
  await page.keyboard.press('Control+s');
  await expect(page.getByRole('region', { name: 'Problems' })).toContainText('Done at must be after Called at.');
  await fill(page, 'Done at', '17 Nov 2026 18:00');
  await page.keyboard.press('Control+s');
  const why = page.getByRole('region', { name: 'Reasons' });
  await expect(why).toContainText('Persons must be at most 8.');
  await expect(why.getByRole('textbox')).toBeFocused();
  await expectAccessible(page);
  await page.keyboard.type('The whole crew was wet.');
  await page.keyboard.press('Control+s');
  await expect(said(page, 'Saved as')).toBeVisible();
  await expect(page.getByRole('button', { name: 'History' })).toBeVisible();
  await page.keyboard.press('Alt+h');
  await expect(page.getByRole('complementary', { name: 'History' })).toContainText(
    '“Persons must be at most 8.” accepted with reason: The whole crew was wet.',
  );
});

test('the whole of Check-in is made in the form editor, from an empty form, and filled', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await makeForm(page, 'Stays', 'Berthing', 'no fields yet');
  const builder = new Builder(page);
  await expect(page.getByRole('button', { name: /Check: ▲/ })).toBeVisible();
  const section = async (label: string, columns: string): Promise<void> => {
    await outline(page)
      .getByRole('button', { name: /^Add to the form/ })
      .click();
    await page.getByRole('combobox', { name: 'What to add' }).fill('Section');
    await page.keyboard.press('Enter');
    await builder.write('Heading', label);
    await builder.choose('Columns on a wide card', columns);
  };
  for (const label of ['Number', 'Harbour', 'Pontoon']) await builder.add(label);
  await builder.click('Narrow it by another field');
  await builder.add('Berth');
  await builder.click('Narrow it by another field');
  await expect(slip(page)).toContainText('Offer Berths whose Pontoon is this form’s Pontoon');
  await builder.click('+ Condition');
  await builder.pick('In use');
  await expect(slip(page)).toContainText('and In use is yes, sorted by title');
  await builder.set(/^columns shown beside each choice/, 'Longest vessel');
  await builder.set(/^what happens when one choice is left/, 'is chosen by itself');

  await section('Vessel', '4');
  for (const label of ['Registration', 'Vessel', 'Length', 'Owner’s phone']) await builder.add(label);
  await builder.select('Registration');
  await builder.write('Help text', 'Type it and leave the field: the vessel is found.');
  await builder.set(/^table to look in/, 'Vessels');
  await builder.set(/^what happens when no record is found/, 'refuse to save');
  await builder.select('Vessel');
  await builder.check('Read-only');
  await builder.check('With its reference card');
  await builder.select('Berth');
  await builder.check('With its reference card');

  await section('Stay', '4');
  for (const label of ['Arrival', 'Departure', 'Mooring', 'Nightly rate']) await builder.add(label);
  await builder.select('Mooring');
  await builder.click('Narrow it by another field');
  await builder.pick('Kind');
  await builder.pick('Mooring');
  await expect(slip(page)).toContainText('Offer Tariff whose Kind is Mooring, sorted by title');
  await builder.set(/^column of Tariff to sort by/, 'Item');
  await builder.set(/^columns shown beside each choice/, 'Rate');
  await builder.click('Fill other fields from the chosen record');
  await builder.set(/^further field to fill/, 'Nightly rate');
  await expect(slip(page)).toContainText('this form’s Nightly rate with its Rate');

  // Its lines: a table that links here, narrowed by the card around them, filled and added up.
  await section('What was used', '1');
  await builder.add('Services used');
  await expect(slip(page)).toContainText('the records of Services used that belong to this one');
  await builder.write('Greatest number of lines', '10');
  await builder.select('Service');
  await builder.click('Narrow it by another field');
  await builder.pick('Season');
  await builder.pick('the Stays card’s Season');
  await builder.set(/^comparison/, 'is at most');
  await expect(slip(page)).toContainText(/whose Season is at most the Stays card’s Season/);
  await builder.click('Fill other fields from the chosen record');
  await expect(slip(page)).toContainText('this line’s Rate with its Rate');

  await section('Dues', '4');
  for (const label of ['Dues', 'Waived', 'Reason']) await builder.add(label);
  await builder.select('Dues');
  await builder.formula('Calculate it…', 'days(Arrival, Departure) × Nightly rate + sum(services_used.amount)');
  await builder.select('Reason');
  await builder.click('Show it only when…');
  await builder.pick('yes');
  await expect(slip(page)).toContainText('Show Reason only when Waived is yes.');
  await builder.click('Require it only when…');
  await builder.pick('yes');
  await expect(slip(page)).toContainText('Reason is required when Waived is yes.');

  // A rule that a sentence cannot say, with its mistakes shown where they are, and an example out of the card.
  await builder.select('Departure');
  await builder.click('Add a rule that asks for a reason');
  await page.keyboard.press('Escape');
  await slip(page).getByRole('button', { name: 'Write as formula' }).click();
  const dialog = page.getByRole('dialog');
  await writeFormula(page, 'days(departure, vessel.insured) >= 0');
  await expect(dialog).toContainText('“insured” is not a field or function here.');
  await expect(dialog.locator('.cm-lintRange-error')).toHaveText('insured');
  await expect(dialog.getByRole('button', { name: 'Apply' })).toBeDisabled();
  await writeFormula(page, 'days(departure, vessel.');
  await expect(dialog).toContainText('Name a field after the dot.');
  await page.keyboard.type('insu');
  await expect(page.getByRole('option', { name: /Insured until/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await page.keyboard.type(') >= 0');
  await page.keyboard.press('Enter');
  await expect(dialog).toBeHidden();
  await builder.set(/^message of the rule/, 'The insurance of this vessel ends before its departure.');

  // Filled on the live card, with its reference cards, and proved.
  const vessel = await page.evaluate(async () => {
    const { records } = await (await fetch('/api/tables/gannet_vessels/records?sort=length&limit=1')).json();
    return records[0].values as { registration: string; name: string };
  });
  await choose(page, 'Berth', 'A-1');
  await expect(input(page, 'Harbour')).not.toHaveValue('');
  await fill(page, 'Registration', vessel.registration);
  await page.keyboard.press('Tab');
  await expect(card(page).getByRole('complementary', { name: 'Vessel, reference card' })).toContainText(vessel.name);
  await expect(card(page).getByRole('complementary', { name: 'Berth, reference card' })).toContainText(
    'Longest vessel',
  );
  await fill(page, 'Arrival', '1 Mar 2038 12:00');
  await fill(page, 'Departure', '4 Mar 2038 10:00');
  await choose(page, 'Mooring', 'Visitor, over 14 m');
  await expect(field(page, 'Dues')).toContainText('108.00');
  const lines = card(page).getByRole('region', { name: 'Services used' });
  await lines.getByLabel('Service, line 1').fill('Crane');
  await page.keyboard.press('Tab');
  await lines.getByLabel('Quantity, line 1').fill('2');
  await page.keyboard.press('Tab');
  await expect(lines.getByLabel('Amount, line 1')).toContainText('130.00');
  await expect(field(page, 'Dues')).toContainText('238.00');
  await lines.getByLabel('Service, line 1').focus();
  await page.keyboard.press('Alt+w');
  const whyLine = page.getByRole('complementary', { name: 'Why these choices for Service?' });
  await expect(whyLine).toContainText('Season: 2038');
  await whyLine.getByRole('button', { name: 'Close' }).click();
  await builder.select('Departure');
  await builder.click('Keep what is on the card as an example');
  await expect(slip(page)).toContainText('should be asked about, and it does.');
  await builder.click('Check existing records');
  await expect(slip(page)).toContainText(/records break it|breaks it/);
  await card(page).getByRole('button', { name: 'Try saving' }).click();
  await page.getByRole('region', { name: 'Reasons' }).getByRole('textbox').fill('Renewal promised.');
  await card(page).getByRole('button', { name: 'Try saving' }).click();
  await expect(card(page)).toContainText('This would be saved. Trying writes nothing.');
  await publish(page, 1, 'Berthing');

  // And filled for good.
  await page.getByRole('link', { name: 'Fill version 1' }).click();
  await choose(page, 'Berth', 'A-1');
  await fill(page, 'Registration', vessel.registration);
  await page.keyboard.press('Tab');
  await expect(field(page, 'Vessel')).toContainText(vessel.name);
  await fill(page, 'Arrival', '1 Mar 2038 12:00');
  await fill(page, 'Departure', '2 Mar 2038 10:00');
  await choose(page, 'Mooring', 'Visitor, over 14 m');
  await field(page, 'Waived').getByLabel('yes').check();
  await page.keyboard.press('Control+s');
  await expect(page.getByRole('region', { name: 'Problems' })).toContainText('Reason is required.');
  await fill(page, 'Reason', 'A gift of the harbour board.');
  await page.getByRole('region', { name: 'Reasons' }).getByRole('textbox').fill('Renewal promised.');
  await page.keyboard.press('Control+s');
  await expect(said(page, /^Saved as STAY-/)).toBeVisible();
});

test('versions: compared in words, an old one tried and brought back; why these choices', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/forms/gannet_call_out/edit');
  const builder = new Builder(page);
  await builder.select('Called at');
  await builder.check('Required');
  await expect(page.getByText('Draft, 1 change since version 1')).toBeVisible();
  await page.getByRole('button', { name: 'Versions' }).click();
  const versions = page.getByRole('complementary', { name: 'Versions' });
  await expect(versions).toContainText('Called at became required.');
  await expectAccessible(page);
  await versions.getByRole('button', { name: 'Try version 1' }).click();
  await expect(card(page)).toContainText('This is version 1 as it was published');
  await expect(field(page, 'Called at').locator('.text_tick')).toHaveCount(0);
  await page.getByRole('button', { name: 'Back to the draft' }).first().click();
  await expect(field(page, 'Called at').locator('.text_tick')).toHaveCount(1);
  await versions.getByRole('button', { name: 'Close' }).click();
  await publish(page, 2, 'Call out');
  await page.getByRole('button', { name: 'Versions' }).click();
  await versions.getByRole('region', { name: 'Version 1' }).getByRole('button', { name: 'Use as the draft' }).click();
  await expect(page.getByText('Draft, 1 change since version 2')).toBeVisible();
  await versions.getByRole('button', { name: 'Close' }).click();

  // Why: the sentence, the value, how many each condition left; an empty dropdown says what to change.
  await choose(page, 'Harbour', 'Tern Cove');
  await input(page, 'Pontoon').focus();
  await page.keyboard.press('Alt+w');
  const why = page.getByRole('complementary', { name: 'Why these choices for Pontoon?' });
  await expect(why).toContainText('Pontoon offers 6 of 18.');
  await expect(why).toContainText('whose Harbour is this form’s Harbour');
  await expect(why).toContainText('this form’s Harbour: Tern Cove');
  await expectAccessible(page);

  await why.getByRole('button', { name: 'Close' }).click();

  // A group: any of several, set in under the others, read as one sentence.
  await builder.select('Pontoon');
  await builder.click('+ Condition');
  await builder.pick('Power');
  await builder.click('+ Group');
  await builder.pick('Depth');
  await builder.pick('3');
  await builder.set(/^comparison/, 'is at least', 2);
  await expect(slip(page)).toContainText(/any of these holds: Power is yes,\s*or Depth is at least 3/);
  await builder.set(/^how these conditions are combined/, 'none of these holds');
  await expect(slip(page)).toContainText(/none of these holds: Power is yes,\s*nor Depth is at least 3/);
});

test('two builders on one draft: the second is shown what differs, and decides', async ({ page, browser }) => {
  await signIn(page, 'harbourmaster');
  const other = await (await browser.newContext()).newPage();
  await signIn(other, 'harbourmaster');
  for (const one of [page, other]) {
    await one.goto('/gannet/forms/gannet_call_out/edit');
    await expect(outline(one)).toBeVisible();
  }
  const [mine, theirs] = [new Builder(page), new Builder(other)];
  await theirs.select('Persons');
  await theirs.write('Help text', 'On board.');
  await expect(other.getByText('Draft, saving…')).toHaveCount(0);
  await mine.select('Length');
  await mine.write('Label', 'Length over all');
  const note = page.getByRole('alert').filter({ hasText: 'Somebody else has changed this draft meanwhile.' });
  await expect(note).toContainText('Theirs: Persons has another help text.');
  await note.getByRole('button', { name: 'Use theirs' }).click();
  await mine.select('Persons');
  await expect(slip(page).getByLabel('Help text')).toHaveValue('On board.');
  await other.close();
});
