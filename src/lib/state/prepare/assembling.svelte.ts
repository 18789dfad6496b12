import {
  frontPicture,
  fieldsOf,
  kindOf,
  titleOf,
  type Edits,
  type Item,
  type ItemId,
  type Assembly,
  type Overlay,
  type SoundPart,
} from '$lib/core/items';
import type { Kind } from '$lib/core/kinds';
import { safeName, safeValue } from '$lib/core/naming';
import { TWIN_CODECS, type TwinCodec } from '$lib/core/rulebooks';
import {
  codecFacts,
  inPlayingOrder,
  joinedChapters,
  joinedFields,
  recipeFromItems,
  splitAtChapters,
  type TwinId,
} from '$lib/core/twins';
import { detached } from '$lib/io/detached';
import { newId } from '$lib/io/new-id';
import type { LostFile, WalkedFile } from '$lib/io/take-in/walk';
import { dropTwinFile } from '$lib/io/twin-files';
import { ConvertClient } from '$lib/workers/convert-client';
import { WorkerError } from '$lib/workers/worker-client';
import type { Intake } from '../intake.svelte';
import type { Library } from '../library.svelte';
import { SOURCE_NAMES } from '../sources/source-names';
import type { PictureDesk } from '../picture-desk';
import type { Work } from '../work.svelte';

/** A file to be made from parts of items, with its description. */
interface Wanted {
  readonly name: string;
  readonly parts: readonly { readonly part: SoundPart; readonly item: Item }[];
  readonly kind: Kind | null;
  readonly fadeInSeconds: number;
  readonly fadeOutSeconds: number;
  /** @param starts seconds at which each part begins */
  says(starts: readonly number[]): Overlay;
}

/** The beginning, end and fades of a part. Seconds. */
export interface Cut {
  readonly fromSeconds: number;
  readonly toSeconds: number;
  readonly fadeInSeconds: number;
  readonly fadeOutSeconds: number;
}

/** File extensions of some kinds whose format has several. */
const ENDINGS: Readonly<Partial<Record<Kind, string>>> = { audiobook: 'm4b', ringtone: 'm4r' };

/**
 * Makes new items from others: several joined, one split at its chapters, a part cut out. The originals stay as they
 * are.
 */
export class Assembling {
  /** Something is being made. */
  busy = $state(false);

  constructor(
    private readonly library: Library,
    private readonly intake: Intake,
    private readonly openFile: (item: Item) => Promise<Blob>,
    private readonly work: Work,
    private readonly pictures: PictureDesk,
  ) {}

  /** Joins items into one, in the order in which they follow each other, with chapters. @returns the new item */
  async join(items: readonly Item[], title: string, codec: TwinCodec): Promise<ItemId | null> {
    const ordered = inPlayingOrder(items);
    const [first] = ordered;
    if (!first) return null;
    const pictures = await this.picturesOf(first);
    const kind = kindOf(first);
    const made = await this.make('Join files', codec, [
      {
        name: title,
        parts: ordered.map((item) => ({
          item,
          part: { item: item.id, fromSeconds: 0, toSeconds: null },
        })),
        kind: ordered.every((item) => kindOf(item) === kind) ? kind : null,
        fadeInSeconds: 0,
        fadeOutSeconds: 0,
        says: (starts) => ({
          ...pictures,
          fields: { album: title, ...joinedFields(ordered), title },
          chapters: joinedChapters(ordered, starts),
        }),
      },
    ]);
    return made[0] ?? null;
  }

  /** Splits an item at its chapters. @returns the new items */
  async split(item: Item, codec: TwinCodec): Promise<readonly ItemId[]> {
    const pictures = await this.picturesOf(item);
    return this.make(
      'Split a file',
      codec,
      splitAtChapters(item).map(({ part, fields }) => ({
        name: `${String(fields.track).padStart(2, '0')} ${String(fields.title)}`,
        parts: [{ item, part }],
        kind: kindOf(item),
        fadeInSeconds: 0,
        fadeOutSeconds: 0,
        says: () => ({ ...pictures, fields }),
      })),
    );
  }

  /** Cuts a part out of an item. @returns the new item */
  async cut(item: Item, title: string, kind: Kind, codec: TwinCodec, cut: Cut): Promise<ItemId | null> {
    const { fromSeconds, toSeconds, ...fades } = cut;
    const pictures = await this.picturesOf(item);
    const made = await this.make('Cut a part', codec, [
      {
        name: title,
        parts: [{ item, part: { item: item.id, fromSeconds, toSeconds } }],
        kind,
        ...fades,
        says: () => ({ ...pictures, fields: partFields(item, title) }),
      },
    ]);
    return made[0] ?? null;
  }

  /** Makes an item's file again from its sources; its description stays. */
  async again(item: Item): Promise<void> {
    const { made } = item;
    const codec = TWIN_CODECS.find((one) => one === made?.codec);
    if (!made || !codec) return;
    const parts = made.parts.flatMap((part) => {
      const own = this.library.find(part.item);
      return own ? [{ part, item: own }] : [];
    });
    if (parts.length < made.parts.length) {
      this.work.say(`${titleOf(item)} cannot be made again: its sources are gone`, true);
      return;
    }
    const { fadeInSeconds, fadeOutSeconds } = made;
    await this.make(
      'Make again',
      codec,
      [{ name: '', parts, kind: null, fadeInSeconds, fadeOutSeconds, says: () => ({}) }],
      item,
    );
  }

  /** The pictures of an item are kept: chosen ones, or the front picture of its file. */
  private async picturesOf(item: Item): Promise<Overlay> {
    const { pictures } = item.edits;
    if (pictures) return { pictures };
    const own = frontPicture(item);
    try {
      const blob = own && (await this.pictures.of(item, own.index));
      return blob ? { pictures: { front: await this.pictures.keep(blob, null) } } : {};
    } catch {
      // A picture that cannot be shown is left out; a file that cannot be opened is reported when it is joined.
      return {};
    }
  }

  /** @param known whose file is made again */
  private async make(
    label: string,
    codec: TwinCodec,
    wanted: readonly Wanted[],
    known: Item | null = null,
  ): Promise<readonly ItemId[]> {
    if (this.busy || !this.library.mayWrite || wanted.length === 0) return [];
    if (this.intake.busy) {
      this.work.say(`${label}: wait until the current take-in is done`, true);
      return [];
    }
    this.busy = true;
    const client = new ConvertClient();
    const temporary: TwinId[] = [];
    const seconds = wanted.reduce((sum, one) => sum + lasting(one), 0);
    const job = this.work.start(label, seconds, () => client.end());
    try {
      const files: (WalkedFile | LostFile)[] = [];
      const taken = new Set(this.library.items.map(({ path }) => path));
      let done = 0;
      for (const one of wanted) {
        const path = known?.path ?? freePath(one, codec, taken);
        const id = newId() as TwinId;
        temporary.push(id);
        files.push(await this.makeOne(one, codec, path, id, client, (heard) => job.progress(done + heard)));
        done += lasting(one);
        job.progress(done);
      }
      job.end();
      const paths = new Set(files.flatMap((file) => ('lost' in file ? [] : file.path)));
      const result = await this.intake.takeIn([
        { label: MADE_HERE, handle: null, origin: 'made', total: files.length, files: each(files) },
      ]);
      // Another take-in began meanwhile.
      if (!result) {
        this.work.say(`${label}: made, but not taken in; try again once the current take-in is done`, true);
        return [];
      }
      const made = this.library.items.filter(({ path, made: from }) => from && paths.has(path));
      const [lost] = files.flatMap((file) => ('lost' in file ? file.lost.detail : []));
      if (lost) this.work.say(`${label}: ${lost}`, true);
      return made.map(({ id }) => id);
    } catch (error) {
      if (!(error instanceof WorkerError) || error.code !== 'ended') throw error;
      this.work.say(`${label} was cancelled; nothing was made`);
      return [];
    } finally {
      job.end();
      client.end();
      for (const id of temporary) await dropTwinFile(this.library.storage.library, id);
      this.busy = false;
    }
  }

  private async makeOne(
    wanted: Wanted,
    codec: TwinCodec,
    path: string,
    twin: TwinId,
    client: ConvertClient,
    tell: (seconds: number) => void,
  ): Promise<WalkedFile | LostFile> {
    const { parts, kind, fadeInSeconds, fadeOutSeconds } = wanted;
    const items = parts.map(({ item }) => item);
    const opened = [];
    for (const { item, part } of parts)
      try {
        const { format } = item;
        const file = await this.openFile(item);
        opened.push({
          name: titleOf(item),
          file,
          format,
          fromSeconds: part.fromSeconds,
          toSeconds: part.toSeconds,
          leastSeconds: item.facts.isAbout || item.facts.isCut ? null : lastingPart({ item, part }),
        });
      } catch (error) {
        const detail = `${titleOf(item)} cannot be opened: ${error instanceof Error ? error.message : String(error)}`;
        return { path, lost: { code: 'unreachable', detail } };
      }
    const result = await client.assemble(
      {
        library: this.library.storage.library,
        twin,
        parts: opened,
        recipe: recipeFromItems(codec, items),
        fadeInSeconds,
        fadeOutSeconds,
        seconds: lasting(wanted),
      },
      tell,
    );
    if (result.type === 'failed') return { path, lost: { code: 'brokenOff', detail: result.detail } };
    const made: Assembly = {
      parts: parts.map(({ part }) => part),
      codec,
      fadeInSeconds,
      fadeOutSeconds,
      from: [...new Set(items)].map(({ id, size, modified }) => ({ item: id, size, modified })),
    };
    const { starts } = result;
    const file = await detached(result.file, path);
    const says = { edits: wanted.says(starts), made, ...(kind && { settled: kind }) };
    return { path, size: file.size, modified: file.lastModified, file, says };
  }
}

/** A path that no item has, which is taken from now on. */
function freePath({ name, kind }: Wanted, codec: TwinCodec, taken: Set<string>): string {
  const { ending, format } = codecFacts(codec);
  const own = format === 'mp4' && kind ? (ENDINGS[kind] ?? ending) : ending;
  const stem = safeName(safeValue(name, SOURCE_NAMES), SOURCE_NAMES);
  let path = `${stem}.${own}`;
  for (let number = 2; taken.has(path); number++) path = `${stem} ${number}.${own}`;
  taken.add(path);
  return path;
}

/** The source of everything that is made here. */
const MADE_HERE = 'Made here';

/** Seconds of a part, as far as its file has them. */
function lastingPart({ item, part: { fromSeconds, toSeconds } }: Wanted['parts'][number]): number {
  const whole = item.facts.durationSeconds ?? 0;
  return Math.max(0, Math.min(toSeconds ?? whole, whole) - fromSeconds);
}

const lasting = ({ parts }: Wanted): number => parts.reduce((sum, one) => sum + lastingPart(one), 0);

/** The description of a part. It is not a track of an album. */
function partFields(item: Item, title: string): Edits {
  const { artist, album, albumArtist, genre, date, composer } = fieldsOf(item);
  const said = Object.entries({ artist, album, albumArtist, genre, date, composer });
  return { ...Object.fromEntries(said.filter(([, value]) => value !== null)), title };
}

async function* each<T>(values: readonly T[]): AsyncGenerator<T> {
  yield* values;
}
