import { expect, test } from '@playwright/test';
import { ahead, choose, divider, expectAccessible, field, fill, input, offers, said, signIn } from './office.ts';

test('the harbour master looks at tables and checks a vessel in', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await expectAccessible(page);
  await divider(page, 'Tables').click();
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Berths', exact: true }).click();
  await expect(page.getByRole('status').first()).toHaveText(/^4\d\d records$/);
  await page.getByRole('searchbox').fill('H-7');
  await expect(page.getByRole('row')).toHaveCount(2);
  await expectAccessible(page);

  await divider(page, 'Forms').click();
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Check-in', exact: true }).click();
  await expect(input(page, 'Harbour')).toBeFocused();

  // Harbour, pontoon and berth narrow one another.
  await choose(page, 'Harbour', 'Gannet Quay');
  expect(await offers(page, 'Pontoon')).toEqual(['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H']);
  await choose(page, 'Pontoon', 'B');
  expect((await offers(page, 'Berth')).every((berth) => berth.startsWith('B-'))).toBe(true);
  await choose(page, 'Berth', 'B-2');

  // An earlier one is changed afterwards: what no longer applies is cleared and says what it was.
  await choose(page, 'Harbour', 'Skerry Haven');
  await expect(field(page, 'Berth')).toContainText('“B-2” was cleared');
  await expect(field(page, 'Pontoon')).toContainText('“B” was cleared: it does not belong to “Skerry Haven”.');
  expect(await offers(page, 'Pontoon')).toEqual(['A', 'B', 'C', 'D']);

  // The child first: its parents follow.
  await choose(page, 'Berth', 'C-3');
  await expect(input(page, 'Pontoon')).toHaveValue('C');

  // A registration, typed and left, fills what the office knows.
  await fill(page, 'Registration', 'GS-9999');
  await page.keyboard.press('Tab');
  await expect(field(page, 'Registration')).toContainText('No record of Vessels has this Registration.');
  const known = await page.evaluate(async () => {
    const { records } = await (await fetch('/api/tables/gannet_vessels/records?sort=length&limit=1')).json();
    return records[0].values as { registration: string; name: string; length: number };
  });
  await fill(page, 'Registration', known.registration);
  await page.keyboard.press('Tab');
  await expect(field(page, 'Vessel')).toContainText(known.name);
  await expect(input(page, 'Length')).toHaveValue(`${known.length.toFixed(2)} m`);
  await expect(field(page, 'Length').getByRole('img', { name: /^Filled by Registration from/ })).toBeVisible();

  // Departure before arrival is refused while typing.
  await fill(page, 'Arrival', `${ahead(29)} 15:30`);
  await fill(page, 'Departure', `${ahead(29)} 10:00`);
  await expect(field(page, 'Departure')).toContainText('Departure must be after arrival.');
  await page.keyboard.press('Control+s');
  await expect(page.getByRole('region', { name: 'Problems' })).toContainText('One problem to correct');
  await expect(input(page, 'Departure')).toHaveValue(`${ahead(29)}, 10:00`);
  await expect(input(page, 'Departure')).toBeFocused();
  await expectAccessible(page);
  await fill(page, 'Departure', '31 Feb 2027 10:00');
  await expect(field(page, 'Departure')).toContainText('There is no such day in the calendar.');
  await fill(page, 'Departure', `${ahead(31)} 10:00`);
  await choose(page, 'Mooring', 'Winter layby');
  await expect(input(page, 'Nightly rate')).not.toHaveValue('');
  // The insurance of this vessel has run out: that asks, and lets it through with a reason.
  await page.keyboard.press('Control+s');
  await expect(page.getByRole('region', { name: 'Reasons' })).toContainText('ends before its departure');
  await expect(page.getByRole('region', { name: 'Reasons' }).getByRole('textbox')).toBeFocused();
  await page.keyboard.type('Renewal shown at the counter.');
  await page.keyboard.press('Control+s');
  await expect(said(page, /^Saved as STAY-\d{4}-/)).toBeVisible();
  await expect(page.getByText(/^added .* harbourmaster$/)).toBeVisible();
  await expect(field(page, 'Number')).toContainText('STAY-');
});

test('a save that the server refuses, and a lost connection, lose nothing that was typed', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/forms/gannet_vessel_card/new');
  await fill(page, 'Name', 'Fulmar Oyster');
  await fill(page, 'Registration', 'GS-12');
  await page.keyboard.press('Tab');
  await expect(field(page, 'Registration')).toContainText('Write it like GS-1234.');
  const taken = await page.evaluate(
    async () =>
      (await (await fetch('/api/tables/gannet_vessels/records?limit=1')).json()).records[0].values
        .registration as string,
  );
  await fill(page, 'Registration', taken);
  await choose(page, 'Type', 'Ketch');
  await fill(page, 'Length', '500');
  await page.keyboard.press('Tab');
  await expect(field(page, 'Length')).toContainText('At most 90.00 m.');
  await fill(page, 'Length', '9,4');
  await page.keyboard.press('Control+s');
  await expect(field(page, 'Registration')).toContainText('Another record already has this Registration.');
  await expect(input(page, 'Name')).toHaveValue('Fulmar Oyster');

  await fill(page, 'Registration', 'GS-9876');
  await page.context().setOffline(true);
  await page.keyboard.press('Control+s');
  await expect(page.getByRole('alert')).toContainText('cannot be reached');
  // The save is sent again by itself, under its same key.
  await page.context().setOffline(false);
  await expect(said(page, 'Saved as')).toBeVisible();
});
