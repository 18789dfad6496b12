import AxeBuilder from '@axe-core/playwright';
import { film } from '../helpers/film';
import { expect, test, type App } from './app';

async function openFilms(app: App): Promise<void> {
  await app.open();
  await app.fillFolder([
    { path: 'Films/The Keeper (1974).mkv', bytes: await film('mkv') },
    { path: 'Films/The Lamp (1981).mp4', bytes: await film('mp4') },
  ]);
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  await app.describeItems();
}

for (const [name, ending] of [
  ['The Keeper', 'mkv'],
  ['The Lamp', 'mp4'],
] as const)
  test(`a ${ending} film is seen in the card and large, by frames and seconds, with its sounds and subtitles`, async ({
    app,
    page,
  }) => {
    await openFilms(app);
    await app.row(new RegExp(name)).click();
    const card = page.getByRole('complementary', { name: 'Card' });
    await card.getByRole('button', { name: 'See the video' }).click();
    const view = page.getByRole('group', { name: new RegExp(`^Video of ${name}`) });
    const video = view.locator('video');
    const at = () => video.evaluate((player: HTMLVideoElement) => player.currentTime);
    await expect(view.getByRole('button', { name: 'Play', exact: true })).toBeEnabled();
    await expect(view.getByLabel('Place in the video')).toHaveAttribute('max', /^[1-9]/);
    await view.getByRole('button', { name: 'Frame on' }).click();
    await expect.poll(at).toBeCloseTo(0.04, 2);
    await view.getByRole('button', { name: '+1 s' }).click();
    await expect.poll(at).toBeCloseTo(1.04, 2);
    await view.getByRole('application', { name: 'Picture' }).press('ArrowLeft');
    await expect.poll(at).toBeCloseTo(0.04, 2);

    await test.step('another sound track is played from the same bytes, without the others', async () => {
      const whole = (await film(ending)).length;
      const size = () =>
        video.evaluate(async (player: HTMLVideoElement) => (await (await fetch(player.src)).blob()).size);
      expect(await size()).toBe(whole);
      await view.getByLabel('sound').selectOption({ index: 2 });
      await expect.poll(size).toBeLessThan(whole);
      await expect(view.getByRole('button', { name: 'Play', exact: true })).toBeEnabled();
      await view.getByRole('button', { name: 'Play', exact: true }).click();
      await expect.poll(at).toBeGreaterThan(0.3);
      await expect(view.getByRole('alert')).toHaveCount(0);
    });

    await test.step('it grows, keeps its place, shows subtitles, and shrinks again', async () => {
      await view.getByRole('application', { name: 'Picture' }).press('ArrowRight');
      const before = await at();
      await card.getByRole('button', { name: 'Larger' }).click();
      const large = page.getByRole('dialog').getByRole('group', { name: new RegExp(`^Video of ${name}`) });
      await expect
        .poll(() => large.locator('video').evaluate((player: HTMLVideoElement) => player.currentTime))
        .toBeCloseTo(before, 1);
      await large.getByLabel('subtitles').selectOption({ index: 1 });
      await large.getByLabel('Place in the video').fill('0.8');
      await expect(large.locator('.texts')).not.toBeEmpty();
      expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);
      await page.keyboard.press('Escape');
      await expect(card.getByRole('button', { name: 'Larger' })).toBeVisible();
    });

    await test.step('the next item is seen at once; closed, the card is as before', async () => {
      const other = name === 'The Keeper' ? 'The Lamp' : 'The Keeper';
      await app.row(new RegExp(other)).click();
      await expect(page.getByRole('group', { name: new RegExp(`^Video of ${other}`) })).toBeVisible();
      await card.getByRole('button', { name: 'Close the video' }).click();
      await expect(card.getByRole('button', { name: 'See the video' })).toBeVisible();
    });
  });

test('in a line-up, the file is seen beside what its entry says', async ({ app, page }) => {
  await app.open();
  await app.fillFolder([1, 2, 3, 4].map((index) => `Discs/FERRY_INSP_S1_D2/title_0${index}.mkv`));
  await app.takeInFolder();
  await app.finished(/4 files taken in/);
  await app.station('Identify').click();
  await app
    .row(/FERRY_INSP/)
    .getByRole('button')
    .click();
  await page.getByRole('option', { name: /^title_02,/ }).click();
  const card = page.getByRole('complementary', { name: 'Card' });
  await card.getByRole('button', { name: 'See the video' }).click();
  await expect(page.getByRole('group', { name: 'Video of title_02' }).locator('video')).toBeVisible();
  await page.getByRole('option', { name: /^title_03,/ }).click();
  await expect(page.getByRole('group', { name: 'Video of title_03' }).locator('video')).toBeVisible();
});
