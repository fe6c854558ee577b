import type { Page } from '@playwright/test';
import { expectAccessible } from './axe';
import { expect, test } from './server';
import { readFileSync } from 'node:fs';
import { choose, goToStep, loaded, watchForTrouble } from './support';

async function openMap(page: Page): Promise<void> {
  await page.goto('/');
  await page.getByRole('link', { name: 'Map', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Map', exact: true })).toBeVisible();
}

/** A place in the list beside the map. */
const inList = (page: Page, name: string) => page.locator('.map-places').getByRole('button', { name });

/** Puts files into a drop zone's own input. */
async function give(page: Page, label: string, name: string, buffer: Buffer): Promise<void> {
  await page.getByLabel(label).setInputFiles({ name, mimeType: 'application/octet-stream', buffer });
}

const gpx = (name: string, latitude: number, longitude: number): Buffer =>
  Buffer.from(
    `<?xml version="1.0"?><gpx version="1.1" xmlns="http://www.topografix.com/GPX/1/1"><wpt lat="${latitude}" lon="${longitude}"><name>${name}</name></wpt></gpx>`,
  );

test('places on the map: by click, typed, from a file, moved and put back', { tag: ['@map'] }, async ({ page }) => {
  const trouble = watchForTrouble(page);
  await openMap(page);
  // The relief is drawn by a worker from the terrain; nothing else is asked for.
  await expect(page.locator('.leaflet-tile-loaded').first()).toBeVisible();

  await test.step('by click, with the terrain under it', async () => {
    await page.getByRole('button', { name: 'Add a place' }).click();
    await expect(page.getByRole('status')).toContainText('Click where it is');
    await page.locator('.leaflet-container').click({ position: { x: 300, y: 200 } });
    await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Look-out');
    // What is typed after the click stands, and the map's click is one of many ways to say it.
    const position = page.getByRole('textbox', { name: 'Position' });
    const clicked = await position.inputValue();
    await position.press('End');
    await position.pressSequentially('1');
    await position.press('Backspace');
    await position.press('Backspace');
    await position.pressSequentially('7');
    await expect(position).toHaveValue(`${clicked.slice(0, -1)}7`);
    await page.getByRole('button', { name: 'Put it there' }).click();
    await inList(page, 'Look-out').click();
    await expect(page.getByRole('textbox', { name: 'Ground above sea level' })).toHaveValue(/^\d+(\.\d+)?$/);
  });

  await test.step('typed, in UTM, with a mistake first', async () => {
    const position = page.getByRole('textbox', { name: 'Position' });
    await position.fill('24S 607000 3698000');
    await page.getByRole('textbox', { name: 'Ground above sea level' }).fill('');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByText('write north or south')).toBeVisible();
    await position.fill('24 north 607000 3698000');
    // The job tells of it before its answer is here: that is nobody else's change.
    let letGo = (): void => undefined;
    const held = new Promise<void>((resolve) => (letGo = resolve));
    const made = page.waitForRequest((request) => request.method() === 'PATCH');
    await page.route('**/api/places/*', async (route) => {
      const response = await route.fetch();
      await held;
      await route.fulfill({ response });
    });
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await made;
    await loaded(page);
    await expect(page.getByText(/UTM 24 north 607000 3698000/)).toBeVisible();
    await expect(page.getByText('Somebody else has changed this')).toBeHidden();
    letGo();
    await inList(page, 'Look-out').click();
    await expect(position).toHaveValue(/33\.41\d+, -37\.84\d+/);
  });

  await test.step('moved by drag, and put back', async () => {
    const before = await page.getByRole('textbox', { name: 'Position' }).inputValue();
    const marker = page.getByTitle('Look-out', { exact: true });
    const box = await marker.boundingBox();
    if (!box) throw new Error('no marker');
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + 60, box.y - 30, { steps: 8 });
    await page.mouse.up();
    const undo = page.getByRole('button', { name: /Undo: Look-out moved/ });
    await expect(undo).toBeVisible();
    await expect(page.getByRole('textbox', { name: 'Position' })).not.toHaveValue(before);
    await undo.click();
    await expect(page.getByRole('textbox', { name: 'Position' })).toHaveValue(before);
    await page.getByRole('button', { name: 'Remove', exact: true }).click();
    await expect(inList(page, 'Look-out')).toBeHidden();
    await page.getByRole('button', { name: 'Undo: Look-out removed' }).click();
    await expect(inList(page, 'Look-out')).toBeVisible();
  });

  await test.step('from a file, and a bad file', async () => {
    await give(page, 'File of places', 'walk.gpx', gpx('Cairn', 33.4202, -37.8502));
    await expect(page.getByText('1 place read.')).toBeVisible();
    await expect(inList(page, 'Cairn landmark')).toBeVisible();
    // Two at once, one of them there already and one broken: each is told by its name, and none stops another.
    await page.getByLabel('File of places', { exact: true }).setInputFiles([
      { name: 'walk.gpx', mimeType: 'application/gpx+xml', buffer: gpx('Cairn', 33.4202, -37.8502) },
      { name: 'broken.gpx', mimeType: 'application/gpx+xml', buffer: Buffer.from('<gpx><wpt') },
      { name: 'more.gpx', mimeType: 'application/gpx+xml', buffer: gpx('Stile', 33.4212, -37.8512) },
    ]);
    await expect(page.getByText('more.gpx: 1 place read.')).toBeVisible();
    await expect(page.getByText('walk.gpx: 0 places read.')).toBeVisible();
    await expect(page.getByText('One was here already')).toBeVisible();
    await expect(page.getByRole('alert')).toContainText('broken.gpx: This GPX file is broken');
    await give(page, 'File of places', 'walk.gpx', Buffer.from('<gpx><wpt'));
    await expect(page.getByRole('alert')).toContainText('This GPX file is broken');
    const download = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Export GeoJSON' }).click();
    const path = await (await download).path();
    expect(JSON.parse(readFileSync(path, 'utf8'))).toMatchObject({ type: 'FeatureCollection' });
  });
  expect(trouble).toEqual([]);
});

test(
  'terrain is dropped in and taken out; the visible area is computed and can be given up',
  { tag: '@map' },
  async ({ page }) => {
    const trouble = watchForTrouble(page);
    await openMap(page);
    await give(page, 'Terrain files', 'holiday.jpg', Buffer.from('no terrain'));
    // Files are read in a process of their own, with less right to the processor.
    await expect(page.getByRole('alert')).toContainText('holiday.jpg is no terrain file that Kivram reads');
    const grid = `ncols 60\nnrows 60\nxllcorner 602000\nyllcorner 3690000\ncellsize 20\n${'5 '.repeat(3600)}\n`;
    await give(page, 'Terrain files', 'islet.asc', Buffer.from(grid));
    await expect(page.getByRole('alert')).toContainText('does not tell its projection');
    // A grid with its projection beside it is one terrain.
    const wkt = 'PROJCS["WGS_1984_UTM_Zone_24N",GEOGCS["GCS_WGS_1984"],PROJECTION["Transverse_Mercator"]]';
    await page.getByLabel('Terrain files', { exact: true }).setInputFiles([
      { name: 'islet.asc', mimeType: 'text/plain', buffer: Buffer.from(grid) },
      { name: 'islet.prj', mimeType: 'text/plain', buffer: Buffer.from(wkt) },
    ]);
    await expect(page.getByText('60 by 60 cells')).toBeVisible();
    await page.getByRole('button', { name: 'Remove islet.asc' }).click();
    await page.getByRole('button', { name: 'Remove it from this computer' }).click();
    await expect(page.getByText('60 by 60 cells')).toBeHidden();

    await choose(page, 'Seen from', 'Ferry office');
    await page.getByRole('textbox', { name: 'Mast above ground' }).fill('15');
    await page.getByRole('button', { name: 'Show what is seen' }).click();
    await expect(page.getByRole('table', { name: 'How much of the area is seen' })).toBeVisible();
    await expect(page.locator('.leaflet-image-layer')).toBeVisible();
    await expect(page.getByRole('listitem').filter({ hasText: 'Ice works:' })).toContainText('60 % of the zone clear');
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Take it off the map' }).click();
    await expect(page.locator('.leaflet-image-layer')).toBeHidden();
    expect(trouble).toEqual([]);
  },
);

test('a path over the ground: what is in the way, how high, where to point', { tag: ['@path'] }, async ({ page }) => {
  const trouble = watchForTrouble(page);
  await page.goto('/');
  await page.getByRole('link', { name: 'Beacon shed, path' }).click();
  await goToStep(page, '1');
  const verdict = page.getByRole('status').first();
  await expect(verdict).toContainText(/thin.*the ridge at 2\.3\d km takes 4\d % of the zone/);

  await test.step('the pointer, by keys', async () => {
    await page.getByRole('group', { name: /^Side view from Ferry office/ }).focus();
    await page.keyboard.press('Shift+ArrowRight');
    await expect(page.locator('.profile-readout')).toContainText('at');
    await expect(page.locator('.profile-readout')).not.toContainText('tightest');
  });

  await test.step('heights, dragged by keys and by mouse, recompute as they move', async () => {
    const antenna = page.getByRole('slider', { name: 'Antenna at Beacon shed, height above ground' });
    await antenna.focus();
    for (let i = 0; i < 4; i++) await page.keyboard.press('PageUp');
    await expect(verdict).toContainText('holds');
    await expect(page.getByText('instead of')).toBeVisible();
    // Where to point follows what is tried, and so does the antenna over the sea.
    await expect(page.getByRole('row', { name: /Mounted above ground/ })).toContainText('trying');
    await page.getByRole('button', { name: 'Back', exact: true }).click();
    await expect(verdict).toContainText('thin');
    const box = await antenna.boundingBox();
    if (!box) throw new Error('no antenna');
    await page.mouse.move(box.x + box.width / 2, box.y + 22);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2, box.y + 120, { steps: 6 });
    await expect(verdict).toContainText('fails');
    await page.mouse.up();
    await page.getByRole('button', { name: 'Back', exact: true }).click();
  });

  await test.step('less bending, and the other side', async () => {
    const bending = page.getByRole('combobox', { name: 'How the air bends rays' });
    await bending.selectOption('little bending, k 2/3');
    await expect(page.locator('.profile-readout')).toContainText('clearance 3.');
    await page.getByRole('button', { name: 'See it from the other side' }).click();
    await expect(page.getByRole('button', { name: 'Near end on the left' })).toBeVisible();
    await bending.selectOption('usual air, k 4/3');
  });

  await test.step('something in the way, with a mistake first', async () => {
    await page.getByRole('button', { name: /^Note something at/ }).click();
    const dialog = page.getByRole('dialog');
    await choose(dialog, 'Kind', 'building');
    await dialog.getByRole('textbox', { name: 'Name, as you would say it' }).fill('the signal tower');
    await dialog.getByRole('textbox', { name: 'Height above ground' }).fill('0');
    await dialog.getByRole('button', { name: 'Note it' }).click();
    await expect(dialog).toContainText('A height of 0 m hides nothing');
    await dialog.getByRole('textbox', { name: 'Height above ground' }).fill('35');
    await dialog.getByRole('button', { name: 'Note it' }).click();
    await expect(verdict).toContainText('the signal tower');
    await page.getByRole('button', { name: 'Change the signal tower' }).click();
    await page.getByRole('button', { name: 'It is gone: remove it' }).click();
    await expect(verdict).toContainText('the ridge');
  });

  await test.step('least heights', async () => {
    await page.getByRole('button', { name: 'Try these heights' }).click();
    await expect(verdict).toContainText('holds');
    await page.getByRole('textbox', { name: 'Most at the near end' }).fill('3');
    await page.getByRole('textbox', { name: 'Most at the far end' }).fill('3');
    await expect(page.getByText('No pair within these limits clears it')).toBeVisible();
  });

  await test.step('a height, typed', async () => {
    await page.getByRole('button', { name: 'Back', exact: true }).click();
    const height = page.getByRole('textbox', { name: 'Mounted above ground at Beacon shed' });
    await height.fill('11.5');
    await height.press('Enter');
    await expect(verdict).toContainText('holds');
    await height.fill('6');
    await height.press('Enter');
    await expect(verdict).toContainText('thin');
  });

  await test.step('bearings, imperial, and a card', async () => {
    await expect(page.getByRole('row', { name: /Compass shows/ })).toContainText('needle 11.0° west');
    await page.getByRole('button', { name: 'metric' }).click();
    await expect(page.getByRole('row', { name: /Antenna above sea/ })).toContainText('ft');
    const download = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Card for the near end' }).click();
    expect((await download).suggestedFilename()).toBe('aim-card-Beacon-shed-near.pdf');
  });
  await expectAccessible(page);
  expect(trouble).toEqual([]);
});

test(
  'a shaft with a moving car has levels over its ride, and advice of its own',
  { tag: ['@bench', '@path'] },
  async ({ page }) => {
    await page.goto('/');
    await page.getByRole('link', { name: /^Cliff hoist, / }).click();
    await goToStep(page, '1');
    await expect(page.getByText(/From 6\.0\s*m to 34\.0\s*m apart the level falls from/)).toBeVisible();
    await expect(page.getByText('the car locked off')).toBeVisible();
    await page.getByRole('textbox', { name: 'Antennas closest' }).fill('2');
    await page.getByRole('textbox', { name: 'Antennas closest' }).blur();
    await expect(page.getByText(/a receiver is overloaded/)).toBeVisible();
    await expect(page.getByRole('row', { name: /Tilt, up is/ })).toContainText('+90.00°');
    await expect(page.getByRole('row', { name: /Compass shows/ })).toBeHidden();
    await page.getByRole('textbox', { name: 'Antennas closest' }).fill('6');
    await page.getByRole('textbox', { name: 'Antennas closest' }).blur();
    await expect(page.getByText(/a receiver is overloaded/)).toBeHidden();
  },
);
