import AxeBuilder from '@axe-core/playwright';
import { VIDEOS, expect, test, type App } from './app';

const ALBUM = 'Music/The Tidewrack Choir/Fathom Songs';
const FILES = [
  `${ALBUM}/1 - Sounding Line.mp3`,
  `${ALBUM}/2 - Undertow, Understood.mp3`,
  `${ALBUM}/3 - Nine Fathoms.mp3`,
  'Music/Orla Venn/Nine Lamps Burning/04 Wick.m4a',
  VIDEOS[1] as string,
];

async function onItems(app: App): Promise<void> {
  await app.open();
  await app.fillFolder(FILES);
  await app.takeInFolder();
  await app.finished(/5 files taken in/);
  await app.describeItems();
  await expect(app.page.getByLabel('Grouped by', { exact: true })).toHaveValue('release');
}

test('a field offers what the library and the standards have, with counts, and Enter goes on to the next', async ({
  app,
  page,
}) => {
  await onItems(app);
  await app.row(/Wick/).click();
  const genre = app.field('genre');
  await genre.focus();
  await genre.press('Control+a');
  await page.keyboard.type('cho');
  const offers = page.getByRole('listbox', { name: 'Values of genre' });
  await expect(offers.getByRole('option', { name: 'choral 3' })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  const { violations } = await new AxeBuilder({ page }).setLegacyMode().analyze();
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]?.html.slice(0, 90)}`)).toEqual([]);
  await page.keyboard.press('Enter');
  await expect(genre).toHaveValue('choral');
  await expect(page.getByRole('button', { name: 'Undo genre of 1' })).toBeVisible();
  await expect(app.field('lyrics')).toBeFocused();
  await genre.fill('choral; elec');
  await offers.getByRole('option', { name: /^Electronic/ }).click();
  await expect(genre).toHaveValue('choral; Electronic');
  await genre.press('Enter');

  // Several values are tokens: moved by keyboard, taken away by one button.
  const tokens = page.getByRole('list', { name: 'Values of genre in their order' });
  await expect(tokens.getByRole('listitem')).toHaveText(['choral', 'Electronic']);
  await tokens.getByLabel('Drag Electronic').press('Alt+ArrowLeft');
  await expect(genre).toHaveValue('Electronic; choral');
  await tokens.getByLabel('Remove Electronic').press('Enter');
  await expect(genre).toHaveValue('choral');

  // Languages by their tags, whichever way they are typed; the others are behind one click.
  const more = page.getByRole('button', { name: /more field/ }).last();
  await more.press('Enter');
  await app.field('language').fill('eng');
  await app.field('language').press('Enter');
  await expect(app.field('language')).toHaveValue('en');
  await app.field('language').fill('no such');
  await app.field('language').press('Enter');
  await expect(page.getByText('language is no language such as en, gd or pt-BR')).toBeVisible();
});

test('what several say is told by how far it agrees, and a value says what it would replace', async ({
  app,
  page,
}) => {
  await onItems(app);
  const card = page.getByRole('complementary', { name: 'Card' });
  await app.row(/^.*Fathom Songs.*3 items/).click();
  await expect(card.getByText('all different').first()).toBeVisible();
  await page.getByRole('grid', { name: 'Items by release' }).focus();
  await page.keyboard.press('Control+a');
  await app.field('genre').fill('sea choir');
  await expect(card.getByText(/All 5: replaces choral 3/)).toBeVisible();
  await app.field('genre').press('Enter');
  await expect(app.field('genre')).toHaveValue('sea choir');
  // What the tags of a copy would not give back is told while it is typed: ID3 has languages without a region.
  await app.row(/Sounding Line/).click();
  await page
    .getByRole('button', { name: /more field/ })
    .last()
    .press('Enter');
  await app.field('language').fill('de-AT');
  await expect(card.getByText('Its format cannot store this value')).toBeVisible();
});

test('a preset is made from what one says, names fields in its values, is kept, and puts all of it back', async ({
  app,
  page,
}) => {
  await onItems(app);
  await app.row(/^.*Fathom Songs.*3 items/).click();
  await page.getByRole('button', { name: 'Change many' }).press('Enter');
  await page.getByRole('button', { name: 'Presets' }).press('Enter');
  await page.getByRole('button', { name: 'New, from the first item' }).press('Enter');
  await page.getByLabel('name', { exact: true }).fill('Songs of the sea');
  await page.getByLabel('Another field').selectOption('title');
  await page.getByLabel('What title becomes').fill('Song :track of :album');
  await page.getByLabel('What genre becomes').fill(':nothing');
  await expect(page.getByRole('alert').filter({ hasText: 'nothing' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save preset' })).toBeDisabled();
  await page.getByLabel('What genre becomes').fill('shanty');
  await page.getByRole('button', { name: 'Save preset' }).press('Enter');
  const { violations } = await new AxeBuilder({ page }).setLegacyMode().analyze();
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]?.html.slice(0, 90)}`)).toEqual([]);
  await page.getByRole('button', { name: 'Change 3 items' }).press('Enter');
  await app.finished(/Songs of the sea: 3 items changed/);
  await page.getByRole('button', { name: 'Back to the items' }).press('Enter');
  await expect(app.row(/Song 3 of Fathom Songs.*shanty/)).toBeVisible();
  await expect.poll(() => app.kept('library')).toContain('Songs of the sea');
  await expect.poll(() => app.kept('said')).toContain('shanty');
  await page.reload();
  await app.describeItems();
  await app.row(/^.*Fathom Songs.*3 items/).click();
  await page.getByRole('button', { name: 'Restore 3 edited items from the files' }).press('Enter');
  await expect(app.row(/Nine Fathoms.*choral/)).toBeVisible();
  await page.getByRole('button', { name: 'Change many' }).press('Enter');
  await page.getByRole('button', { name: 'Presets' }).press('Enter');
  await page.getByLabel('Preset', { exact: true }).selectOption('Songs of the sea');
  await expect(page.getByRole('button', { name: 'Change 3 items' })).toBeEnabled();
});

test('many are changed by one rule, each seen before it is, and it is undone by name', async ({
  app,
  page,
}) => {
  await onItems(app);
  await app.row(/^.*Fathom Songs.*3 items/).click();
  await page.getByRole('button', { name: 'Change many' }).press('Enter');
  const becomes = page.getByRole('grid', { name: 'Preview' });
  await page.getByRole('radio', { name: 'UPPER CASE' }).check();
  await expect(becomes.getByRole('row', { name: /NINE FATHOMS/ })).toBeVisible();
  await becomes.getByRole('checkbox', { name: 'Change Sounding Line' }).uncheck();
  const { violations } = await new AxeBuilder({ page }).setLegacyMode().analyze();
  expect(violations.map(({ id, nodes }) => `${id} ${nodes[0]?.html.slice(0, 90)}`)).toEqual([]);
  await page.getByRole('button', { name: 'Change 2 items' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Undo Letter case, 2' })).toBeVisible();

  await page.getByRole('button', { name: 'Find and replace' }).press('Enter');
  await page.getByLabel('find', { exact: true }).fill('FATHOM');
  await page.getByLabel('replace with').fill('League');
  await expect(becomes.getByRole('row', { name: /NINE LeagueS/ })).toBeVisible();
  await page.getByLabel('match case').check();
  await page.getByLabel('whole words only').check();
  await expect(page.getByText('Nothing would change.')).toBeVisible();

  await page.getByRole('button', { name: 'Number items' }).press('Enter');
  await page.getByLabel('from', { exact: true }).fill('7');
  await expect(becomes.getByRole('row')).toHaveCount(3);
  await page.getByRole('button', { name: 'Change 3 items' }).press('Enter');

  await page.getByRole('button', { name: 'Copy fields from one item' }).press('Enter');
  // A title is not said of all unasked.
  await expect(page.getByRole('checkbox', { name: /^title/ })).not.toBeChecked();
  await page.getByRole('checkbox', { name: /^track/ }).check();
  await expect(page.getByRole('button', { name: 'Change 2 items' })).toBeEnabled();
  await page.getByRole('button', { name: 'Back to the items' }).press('Enter');
  await expect(app.row(/7.*Sounding Line/)).toBeVisible();
  await expect(app.row(/8.*UNDERTOW/)).toBeVisible();
  await app.undo();
  await app.undo();
  await expect(app.row(/2.*Undertow, Understood/)).toBeVisible();
});
