import {
  editContent,
  editedFrontRoles,
  frontPicture,
  kindOf,
  putBack,
  withoutFront,
  type ChapterPicture,
  type ChosenPicture,
  type Item,
  type ItemId,
  type PictureId,
  type PictureRole,
} from '$lib/core/items';
import { picturesFor, type Rulebook } from '$lib/core/rulebooks';
import { newId } from '$lib/io/new-id';
import { toJpeg, type PictureOrder, type ReadyPicture } from '$lib/io/pictures';
import type { ParsePool } from '$lib/workers/parse-pool';
import { PictureClient } from '$lib/workers/picture-client';
import type { Frame } from '$lib/workers/picture-protocol';
import type { Library } from './library.svelte';

/** The pictures of items: their bytes, and others in their place. */
export class PictureDesk {
  private client: PictureClient | null = null;

  constructor(
    private readonly library: Library,
    private readonly openFile: (item: Item) => Promise<Blob>,
    private readonly pool: () => ParsePool,
    private readonly rulebook: () => Rulebook,
  ) {}

  /** The picture that represents an item, or null. */
  async of(item: Item, index: number): Promise<Blob | null> {
    const chosen = item.edits.pictures?.front;
    if (chosen) return this.library.storage.pictures.find(chosen.id);
    return this.pool().picture(await this.openFile(item), { index });
  }

  /** The picture of an item in a role: a chosen one, or that of its file. Null if there is none. */
  async inRole(item: Item, role: PictureRole): Promise<Blob | null> {
    if (role === 'front') {
      const front = frontPicture(item);
      return front && this.of(item, front.index);
    }
    const chosen = item.edits.pictures?.[role];
    if (chosen) return this.library.storage.pictures.find(chosen.id);
    const index = item.file.pictures.findIndex((one) => one.role === role);
    if (chosen === null || index < 0) return null;
    return this.pool().picture(await this.openFile(item), { index });
  }

  /** The picture of one of an item's chapters, or null when it is gone. */
  async ofChapter(item: Item, picture: ChapterPicture): Promise<Blob | null> {
    if ('id' in picture) return this.library.storage.pictures.find(picture.id);
    return this.pool().picture(await this.openFile(item), { hash: picture.hash });
  }

  /** Keeps a picture in the library. @throws {PictureError} when the browser cannot show it */
  async keep(file: Blob, square: { least: number } | null): Promise<ChosenPicture> {
    const { blob, mime, width, height } = await toJpeg(file, square);
    const id = newId() as PictureId;
    await this.library.storage.pictures.keep(id, blob);
    return { id, mime, bytes: blob.size, width, height };
  }

  /** A picture chosen for something other than an item, or null if it is gone. */
  kept(id: PictureId): Promise<Blob | null> {
    return this.library.storage.pictures.find(id);
  }

  /** A part of a picture, scaled, as JPEG: drawn in a worker. @throws {Error} saying why it cannot be */
  make(blob: Blob, order: PictureOrder): Promise<ReadyPicture> {
    return this.drawing().make(blob, order);
  }

  /** The frame of an item that is shown at a time in seconds. @throws {Error} saying why there is none */
  async frame(item: Item, seconds: number): Promise<Frame> {
    return this.drawing().frame(await this.openFile(item), seconds);
  }

  /** Sets a picture that was made for items, in a role. It is theirs until it is put back. */
  async setMade(
    items: readonly Item[],
    { blob, mime, width, height }: ReadyPicture,
    role: PictureRole,
    label: string,
  ): Promise<void> {
    const id = newId() as PictureId;
    await this.library.storage.pictures.keep(id, blob);
    const made: ChosenPicture = { id, mime, bytes: blob.size, width, height };
    this.library.act(label, items, (item) => editContent(item, { pictures: { [role]: made } }));
  }

  /** Removes the picture that represents each item, from its copies and, by a run into originals, from its file. */
  remove(items: readonly Item[]): void {
    this.library.act(`Remove picture of ${items.length}`, items, withoutFront);
  }

  /** Restores the pictures in the files, where others were chosen or they were removed. */
  restore(items: readonly Item[]): void {
    const edited = items.filter((item) => editedFrontRoles(item).length > 0);
    this.library.act(`Restore picture of ${edited.length}`, edited, (item) =>
      putBack(item, { pictures: editedFrontRoles(item) }),
    );
  }

  end(): void {
    this.client?.end();
  }

  private drawing(): PictureClient {
    this.client ??= new PictureClient();
    return this.client;
  }

  /** Sets a picture for items. @throws {PictureError} when the browser cannot show it */
  async set(
    items: readonly Item[],
    file: Blob,
    square: { least: number } | null,
    label: string,
  ): Promise<void> {
    const front = await this.keep(file, square);
    this.library.act(label, items, (item) => editContent(item, { pictures: { front } }));
  }

  /** Makes the first one's picture square, and gives it to all. */
  async square(ids: readonly ItemId[], label: string): Promise<void> {
    const items = this.library.findAll(ids);
    const first = items[0];
    const own = first && (await this.of(first, 0));
    const kind = first && kindOf(first);
    const asked = kind ? picturesFor(this.rulebook(), kind) : [];
    const least = Math.max(500, ...asked.map(({ minPixels }) => minPixels));
    if (own) await this.set(items, own, { least }, label);
  }
}
