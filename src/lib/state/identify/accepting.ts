import {
  KIND_OF_TYPE,
  entriesInOrder,
  factsFor,
  matchOf,
  type Candidate,
  type Pair,
  type ReferenceEntry,
  type ReferenceRelease,
} from '$lib/core/identify';
import {
  editContent,
  type ChosenPicture,
  type Edits,
  type FieldName,
  type Item,
  type ItemId,
  type PictureId,
} from '$lib/core/items';
import { newId } from '$lib/io/new-id';
import { toJpeg } from '$lib/io/pictures';
import type { ReferenceClient } from '$lib/io/reference-client';
import type { Library } from '../library.svelte';

/** What is written when matches are accepted. */
export interface WhatIsWritten {
  readonly fields: ReadonlySet<FieldName>;
  readonly withLyrics: boolean;
  /** Edge of the release's picture in pixels, or null for no picture. */
  readonly pictureSize: number | null;
}

/** What an accepted match says of one item. */
export interface Accepted {
  readonly release: ReferenceRelease;
  readonly entry: ReferenceEntry;
  readonly edits: Edits;
  readonly picture: ChosenPicture | null;
}

/** What the entries say of the items that they are paired with. Pictures and lyrics are fetched from the reference. */
export class Accepting {
  /** Pictures that were fetched for this act, by release. */
  private readonly pictures = new Map<string, ChosenPicture | null>();

  constructor(
    private readonly library: Library,
    private readonly reference: ReferenceClient,
    private readonly written: WhatIsWritten,
  ) {}

  /** @throws {ServiceError} if a picture or lyrics cannot be fetched */
  async accept(
    candidates: readonly Candidate[],
    pairs: readonly Pair[],
  ): Promise<ReadonlyMap<ItemId, Accepted>> {
    const { fields, withLyrics } = this.written;
    const entries = new Map(
      candidates.flatMap(({ release, order }) =>
        entriesInOrder(release, order).map((entry) => [entry.id, { release, entry }] as const),
      ),
    );
    const accepted = new Map<ItemId, Accepted>();
    for (const pair of pairs) {
      const own = entries.get(pair.entry);
      if (!own) continue;
      const { release, entry } = own;
      const edits = factsFor(release, entry, fields);
      const lyrics = withLyrics && entry.hasLyrics ? await this.reference.lyrics(entry.id) : null;
      accepted.set(pair.file as ItemId, {
        release,
        entry,
        edits: lyrics === null ? edits : { ...edits, lyrics },
        picture: await this.pictureOf(release),
      });
    }
    return accepted;
  }

  /** Writes what was accepted into the descriptions of the items, as one act. */
  write(label: string, accepted: ReadonlyMap<ItemId, Accepted>): void {
    const at = Date.now();
    this.library.act(label, this.library.findAll(accepted.keys()), (item) => {
      const own = accepted.get(item.id);
      return own ? withAccepted(item, own, at) : item;
    });
  }

  private async pictureOf(release: ReferenceRelease): Promise<ChosenPicture | null> {
    let picture = this.pictures.get(release.id);
    if (picture === undefined) this.pictures.set(release.id, (picture = await this.fetchPicture(release)));
    return picture;
  }

  private async fetchPicture(release: ReferenceRelease): Promise<ChosenPicture | null> {
    const size = this.written.pictureSize;
    if (size === null || !release.pictureSizes.includes(size)) return null;
    const { blob, mime, width, height } = await toJpeg(await this.reference.picture(release.id, size));
    const id = newId() as PictureId;
    await this.library.storage.pictures.keep(id, blob);
    return { id, mime, bytes: blob.size, width, height };
  }
}

/** An item with what an accepted match says of it. */
function withAccepted(item: Item, { release, entry, edits, picture }: Accepted, at: number): Item {
  return {
    ...editContent(item, { fields: edits, ...(picture && { pictures: { front: picture } }) }),
    settled: item.settled ?? KIND_OF_TYPE[release.type],
    identity: matchOf(release, entry, at),
  };
}
