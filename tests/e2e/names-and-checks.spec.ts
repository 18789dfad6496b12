import { ALBUM, expect, test } from './app';

test('facts are read out of names: proposed, seen for every file, taken for all or some, and undone', async ({
  app,
  page,
}) => {
  const from = 'Drop/from the old laptop/audio_1.mp3';
  await app.open();
  await app.fillFolder([
    { path: 'Orla Venn/Wick (2016)/01 Harbour_Bell (1).mp3', from },
    { path: 'Orla Venn/Wick (2016)/02 Lamp Song.mp3', from },
    { path: 'Dag Holme/Ebb Tables/07 - Neap.mp3', from },
    { path: 'loose.mp3', from },
  ]);
  await app.takeInFolder();
  await app.finished(/4 files taken in/);
  await page.getByRole('button', { name: 'Fields from names' }).click();
  const pattern = page.getByLabel('pattern', { exact: true });
  await expect(pattern).toHaveValue(':artist/:album{ (:year)}/:track :title');
  const row = (name: RegExp) =>
    page.getByRole('grid', { name: 'Names and what they say' }).getByRole('row', { name });

  await test.step('every file shows what it would become; those that do not fit stand apart', async () => {
    await expect(row(/Harbour_Bell/)).toContainText(
      /artist\s+Orla Venn\s*album\s+Wick\s*date\s+2016\s*track\s+1\s*title\s+Harbour Bell/,
    );
    await expect(row(/07 - Neap/)).toContainText(/title\s+- Neap/);
    await page.getByRole('button', { name: '1 do not fit' }).click();
    await expect(row(/loose/)).toBeVisible();
    await page.getByRole('button', { name: /^all/ }).click();
  });

  await test.step('a typed pattern that is wrong says where; fields come from the palette', async () => {
    await pattern.fill(':artist/:album{ (:year)}/:track{ -} ');
    await page
      .getByRole('group', { name: 'Fields for the pattern' })
      .getByRole('button', { name: ':title' })
      .click();
    await expect(row(/07 - Neap/)).toContainText(/title\s+Neap/);
    await pattern.fill(':artist/{:album');
    await expect(page.getByText('the { at letter 9 has no matching }')).toBeVisible();
    await pattern.fill(':artist/:album{ (:year)}/:track{ -} :title');
  });

  await test.step('noise is switched by its rule', async () => {
    await page.getByLabel('numbers in brackets').uncheck();
    await expect(row(/Harbour_Bell/)).toContainText(/title\s+Harbour Bell \(1\)/);
    await page.getByLabel('numbers in brackets').check();
  });

  await page.getByLabel('Take 02 Lamp Song.mp3').uncheck();
  await page.getByRole('button', { name: 'Use the fields of 2 files' }).click();
  await app.finished(/Facts taken from 2 names/);
  await page.getByRole('button', { name: 'Back to the arrivals' }).click();
  await app.row(/Harbour_Bell/).click();
  await expect(app.field('title')).toHaveValue('Harbour Bell');
  await app.row(/Lamp Song/).click();
  await expect(app.field('title')).toHaveValue('');
  await app.undo();
  await app.row(/Harbour_Bell/).click();
  await expect(app.field('title')).toHaveValue('');
});

test('a name that can be read in several ways is set apart until one is chosen', async ({ app, page }) => {
  const from = 'Drop/from the old laptop/audio_1.mp3';
  await app.open();
  await app.fillFolder([
    { path: 'One - Two - Three.mp3', from },
    { path: 'Orla Venn - Wick.mp3', from },
  ]);
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  await page.getByRole('button', { name: 'Fields from names' }).click();
  await page.getByLabel('pattern', { exact: true }).fill(':artist - :title');
  await page.getByRole('button', { name: '1 can be read in several ways' }).click();
  await page
    .getByLabel('How One - Two - Three.mp3 is read')
    .selectOption({ label: 'artist One - Two, title Three' });
  await page.getByRole('button', { name: 'Use the fields of 2 files' }).click();
  await page.getByRole('button', { name: 'Back to the arrivals' }).click();
  await app.row(/One - Two - Three/).click();
  await expect(app.field('artist')).toHaveValue('One - Two');
});

test('a check finds what does not play, what is here twice, and what sounds alike; a forgotten double comes back', async ({
  app,
  page,
  request,
}) => {
  const storm = 'Music/The Tidewrack Choir/Fathom Songs/5 - Slack Before Storm.mp3';
  // A song in a codec that nothing here decodes.
  const lamps = 'Music/Orla Venn/Nine Lamps Burning/02 Harbour Bell_ A Watch Song.m4a';
  const file = await request.get(`/demo-files/${lamps.split('/').map(encodeURIComponent).join('/')}`);
  const bytes = await file.body();
  bytes.write('dtsc', bytes.indexOf('mp4a', bytes.indexOf('stsd')), 'latin1');
  await app.open();
  await app.fillFolder([
    ALBUM[0] as string,
    { path: 'Odd/Harbour Bell.m4a', bytes: [...bytes] },
    storm,
    'Drop/track_05(1).opus',
    { path: 'Copies/storm.mp3', from: storm },
    'Music/Halyard & Daughters/Quiet Engines/05 Cold Iron.aiff',
  ]);
  await app.takeInFolder();
  await app.finished(/6 files taken in/);
  await page.getByRole('button', { name: 'Check', exact: true }).click();
  await page.getByRole('button', { name: 'Check 6 items' }).click();
  await app.finished(/6 of 6 checked, 3 to review/);
  const found = page.getByRole('list', { name: 'What the check found' }).getByRole('listitem');
  await expect(found.filter({ hasText: 'does not play here' })).toContainText('Harbour Bell');
  await expect(found.filter({ hasText: 'the same audio 2 times' })).toContainText('Copies/storm.mp3');
  await page.getByRole('button', { name: 'Back to the arrivals' }).click();
  await expect(app.row(/track_05\(1\)\.opus/)).toContainText('sounds like Slack Before Storm');
  await page.getByRole('button', { name: 'Check', exact: true }).click();
  const alike = found.filter({ hasText: 'sounds alike 2 times' });
  await expect(alike).toContainText('What differs: format, path, size, title');
  await alike.getByRole('button', { name: /Keep .*\.mp3, remove the others/ }).click();
  await expect(alike).toHaveCount(0);
  await page.getByRole('button', { name: 'Back to the arrivals' }).click();
  await expect(app.row(/track_05\(1\)\.opus/)).toHaveCount(0);
  await app.undo();
  await expect(app.row(/track_05\(1\)\.opus/)).toBeVisible();
  await page.reload();
  await app.row(/storm\.mp3/).click();
  await expect(page.getByText('plays to the end')).toBeVisible();
  // No browser decodes AIFF; we do.
  await app.row(/Cold Iron/).click();
  await expect(page.getByText('plays to the end')).toBeVisible();
});

test('what is spoken is told by listening, where all other evidence leaves the kind open', async ({
  app,
  page,
}) => {
  await app.open();
  await app.fillFolder([{ path: 'a/recording.mp3', from: 'Books/Wreckmasters Daughters/00.mp3' }]);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await app.row(/recording/).click();
  await expect(
    page.getByRole('complementary', { name: 'Card' }).getByText(/\d+ % of it is spoken/),
  ).toBeVisible();
});
