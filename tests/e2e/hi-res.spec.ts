import { spawnSync } from 'node:child_process';
import { dffFile, dsfFile, id3Tag, modulate } from '../../scripts/demo/dsd.mjs';
import { filesOn } from '../helpers/answers';
import { hasFfmpeg, withFile } from '../helpers/foreign-readers';
import { expect, test } from './app';

const SECONDS = 1.25;
const tone = (hertz: number) =>
  modulate((seconds) => 0.4 * Math.sin(2 * Math.PI * hertz * seconds) * Math.min(1, 5 * seconds), SECONDS);
const tag = (title: string, track: string) =>
  id3Tag({ TIT2: title, TPE1: 'Orla Venn', TALB: 'Deep Lamps', TRCK: track, TYER: '1998' });

test('an album in DSD is heard, and goes to a player that takes none of it', async ({
  app,
  page,
  request,
}) => {
  test.setTimeout(200_000);
  const [low, high] = [tone(440), tone(660)];
  await app.open();
  await app.fillFolder([
    { path: 'Music/Orla Venn/Deep Lamps/01 Wick.dsf', bytes: [...dsfFile([low, high], tag('Wick', '1'))] },
    { path: 'Music/Orla Venn/Deep Lamps/02 Oil.dff', bytes: [...dffFile([high, low], tag('Oil', '2'))] },
  ]);
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  await expect(app.row(/Wick/)).toContainText('album, artist and track in its tags');

  // No browser decodes DSD; we do.
  await app.row(/Wick/).click();
  await page.getByRole('button', { name: 'Play the selected item' }).click();
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  await page.getByRole('button', { name: 'Pause' }).click();

  await app.station('Prepare').click();
  const grid = page.getByRole('grid', { name: 'What plays where' });
  const shelf = grid.getByRole('row', { name: /Deep Lamps/ });
  await page.getByRole('main').getByRole('button', { name: 'Make 2 twins for Attic' }).click();
  await expect(shelf.getByRole('img', { name: /^Attic:/ })).toHaveAccessibleName('Attic: 2 twins ready', {
    timeout: 90_000,
  });
  await app.finished(/2 twins made and checked$/);
  await app.station('Players').click();
  await page.getByRole('radio', { name: /^Attic, / }).check();
  await app.run();
  await app.finished(/none failed/);
  await expect(
    page
      .getByRole('region', { name: 'Proof' })
      .getByRole('heading', { name: 'Attic shows all 2 as rehearsed' }),
  ).toBeVisible();
  const flac = (await filesOn(request, 'attic')).find(({ path }) => /Wick.*\.flac$/.test(path));
  const answer = await request.get(
    `/devices/attic/files/${flac!.path.split('/').map(encodeURIComponent).join('/')}`,
  );
  const bytes = await answer.body();
  expect(bytes.includes('Deep Lamps')).toBe(true);
  if (!hasFfmpeg) return;
  const ask = ['-v', 'error', '-of', 'csv=p=0', '-show_entries'];
  const said = 'stream=codec_name,sample_rate,channels,bits_per_raw_sample,duration';
  const told = withFile(bytes, 'flac', (path) =>
    spawnSync('ffprobe', [...ask, said, path]).stdout.toString(),
  );
  expect(told.trim()).toBe('flac,176400,2,1.250000,24');
});
