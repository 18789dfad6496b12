import { test as base, expect, type Browser, type Locator, type Page } from '@playwright/test';
import { RECORD_FOLDER } from '../../src/lib/core/run';
import { filesOn } from '../helpers/answers';
import { devicesOf, portOf } from './servers';

/** The application as a curator has it: empty players, and folders of the private file system in place of the dialog. */
export class App {
  constructor(
    readonly page: Page,
    /** The folder that holds what lies on its players. */
    readonly devices: string,
  ) {}

  /** Opens a library on a board and waits until it can be used. */
  async open(
    board: 'intake' | 'identify' | 'describe' | 'prepare' | 'lists' | 'players' = 'intake',
    library = 'home',
  ): Promise<void> {
    await this.page.goto(`/${library}/${board}`);
    // The page is empty before it starts: the board must be there, and no longer be opening.
    const main = this.page.getByRole('main', { name: `${board} board` });
    await expect(main).not.toBeEmpty();
    await expect(main.getByText('Opening the library')).toHaveCount(0);
  }

  /** Fills the folder that the dialog will give with files of the demo, or with bytes made here. */
  async fillFolder(
    files: readonly (string | { path: string; from?: string; bytes?: number[] })[],
    name = 'lectorum-intake',
  ): Promise<void> {
    const list = files.map((file) => (typeof file === 'string' ? { path: file, from: file } : file));
    await this.page.evaluate(
      async ([folder, entries]) => {
        const root = await (
          await navigator.storage.getDirectory()
        ).getDirectoryHandle(folder, { create: true });
        for (const { path, from, bytes } of entries) {
          const parts = path.split('/');
          const last = parts.pop() as string;
          let at = root;
          for (const part of parts) at = await at.getDirectoryHandle(part, { create: true });
          const file = await (await at.getFileHandle(last, { create: true })).createWritable();
          const content = bytes
            ? new Uint8Array(bytes)
            : await (
                await fetch(`/demo-files/${(from as string).split('/').map(encodeURIComponent).join('/')}`)
              ).blob();
          await file.write(content);
          await file.close();
        }
      },
      [name, list] as const,
    );
  }

  /** Every file of a folder of the private file system, as bytes. */
  async readFolder(name: string): Promise<Map<string, Buffer>> {
    const files = await this.page.evaluate(async (folder) => {
      const out: [string, string][] = [];
      const walk = async (at: FileSystemDirectoryHandle, below: string): Promise<void> => {
        for await (const entry of at.values()) {
          if (entry.kind === 'directory') await walk(entry, `${below}${entry.name}/`);
          else {
            const bytes = new Uint8Array(await (await entry.getFile()).arrayBuffer());
            let text = '';
            for (let i = 0; i < bytes.length; i += 8192)
              text += String.fromCharCode(...bytes.subarray(i, i + 8192));
            out.push([below + entry.name, btoa(text)]);
          }
        }
      };
      await walk(
        await (await navigator.storage.getDirectory()).getDirectoryHandle(folder, { create: true }),
        '',
      );
      return out;
    }, name);
    return new Map(files.map(([path, text]) => [path, Buffer.from(text, 'base64')]));
  }

  async takeInFolder(): Promise<void> {
    await this.page
      .getByRole('button', { name: /^(Choose a folder|Folder)/ })
      .first()
      .click();
  }

  /** Waits for the word in the dock that says what was finished. */
  async finished(text: RegExp): Promise<void> {
    await expect(this.page.getByRole('contentinfo').getByRole('status')).toHaveText(text, {
      timeout: 120_000,
    });
  }

  station(name: 'Intake' | 'Identify' | 'Describe' | 'Prepare' | 'Lists' | 'Players') {
    return this.page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name });
  }

  /** Goes to where items are described, one in a row. */
  async describeItems(): Promise<void> {
    await this.station('Describe').click();
    await this.page
      .getByRole('group', { name: 'What the rows are' })
      .getByRole('button', { name: 'Items' })
      .click();
  }

  /** A field on the card. */
  field(name: string) {
    return this.page.getByRole('complementary', { name: 'Card' }).getByLabel(name, { exact: true });
  }

  row(name: string | RegExp) {
    return this.page.getByRole('grid').getByRole('row', { name }).first();
  }

  finding(text: string | RegExp) {
    return this.page.getByRole('list', { name: 'Findings' }).getByRole('listitem').filter({ hasText: text });
  }

  /** The buttons that mend a finding. */
  mend(text: string | RegExp) {
    return this.finding(text).getByRole('group', { name: 'What to do' }).getByRole('button');
  }

  /** A finding, once it was scrolled to: only lines on screen exist. */
  async seeFinding(text: string | RegExp) {
    const list = this.page.getByRole('region', { name: 'Rehearsal', exact: true });
    await list.evaluate((body) => body.scrollTo({ top: 0 }));
    await expect(async () => {
      if ((await this.finding(text).count()) > 0) return;
      await list.evaluate((body) => body.scrollBy({ top: 200 }));
      throw new Error(`${String(text)} is not on screen yet`);
    }).toPass({ timeout: 120_000 });
    return this.finding(text).first();
  }

  /** Everything that the browser keeps of a part of the library, as text. */
  kept(part: 'said' | 'library'): Promise<string> {
    return this.page.evaluate(
      (name) =>
        new Promise<string>((resolve) => {
          const open = indexedDB.open(`lectorum-home-${name}`);
          open.onsuccess = () => {
            if (!open.result.objectStoreNames.contains('keyvaluepairs')) {
              open.result.close();
              return resolve('');
            }
            const all = open.result.transaction('keyvaluepairs').objectStore('keyvaluepairs').getAll();
            all.onsuccess = () => {
              open.result.close();
              resolve(JSON.stringify(all.result));
            };
          };
        }),
      part,
    );
  }

  /** Moves the focus on until it is there, as somebody does who has no mouse. */
  async reach(target: Locator, key = 'Tab', most = 150): Promise<void> {
    await expect(target).toBeVisible();
    // Looked up once, since a look by role goes through the whole page, and again where it was drawn anew.
    let own = await target.elementHandle();
    for (let turn = 0; turn < most; turn++) {
      const where = await own?.evaluate((one) =>
        one === document.activeElement ? 'there' : one.isConnected ? 'on' : 'gone',
      );
      if (where === 'there') return;
      if (where === 'gone') own = await target.elementHandle();
      else await this.page.keyboard.press(key);
    }
    throw new Error(`${String(target)} is not reached by ${key}`);
  }

  /** Goes there by Tab, and presses a key. */
  async press(target: Locator, key = 'Enter'): Promise<void> {
    await this.reach(target);
    await this.page.keyboard.press(key);
  }

  async run(): Promise<void> {
    await this.page.getByRole('button', { name: /^Run \d+ steps?$/ }).click();
  }

  async undo(): Promise<void> {
    await this.page.getByRole('button', { name: /^Undo / }).click();
  }
}

/** The folder dialog cannot be driven; the browser's own private file system stands in for the choice. */
const chooseFolders = (page: Page): Promise<unknown> =>
  page.addInitScript(() => {
    window.showDirectoryPicker = async (options) =>
      (await navigator.storage.getDirectory()).getDirectoryHandle(options?.id ?? 'picked', { create: true });
  });

/** A browser that knows nothing of the first one's library. */
export async function otherBrowser(browser: Browser, app: App): Promise<App> {
  const context = await browser.newContext({ baseURL: new URL(app.page.url()).origin });
  const page = await context.newPage();
  await chooseFolders(page);
  return new App(page, app.devices);
}

export const test = base.extend<{ app: App }>({
  // Tests that run side by side each have a server to themselves. Playwright reads what is needed from the pattern.
  // eslint-disable-next-line no-empty-pattern
  baseURL: async ({}, use, { parallelIndex }) => use(`http://localhost:${portOf(parallelIndex)}`),
  app: async ({ page, request }, use, { parallelIndex }) => {
    for (const device of ['attic', 'galley', 'pocket']) {
      const base = `/devices/${device}`;
      await request.put(`${base}/manner`, { data: {} });
      // What lies in the open, and what the place remembers of libraries.
      for (const folder of [null, RECORD_FOLDER])
        for (const { path } of await filesOn(request, device, folder))
          await request.delete(`${base}/files/${path.split('/').map(encodeURIComponent).join('/')}`);
    }
    const wrong: string[] = [];
    page.on('pageerror', (error) => wrong.push(error.message));
    page.on('console', (message) => {
      if (/Content Security Policy|Refused to/.test(message.text())) wrong.push(message.text());
    });
    await chooseFolders(page);
    await use(new App(page, devicesOf(parallelIndex)));
    expect(wrong).toEqual([]);
  },
});

export { expect };

/** The folder of an album with its faults, and of two music videos. */
export const ALBUM = [1, 2, 3, 4, 5].map((track) => {
  const titles = ['Inventory of Gulls', 'Kelp Road', 'The Harbour Clerk', 'Low Water', 'Ballast Stone'];
  return `Music/The Tidewrack Choir/Salt Ledger/0${track} ${titles[track - 1]}.flac`;
});
export const VIDEOS = [
  'Music Videos/The Tidewrack Choir - Low Water.mp4',
  'Drop/Orla Venn - Harbour Bell.webm',
];
