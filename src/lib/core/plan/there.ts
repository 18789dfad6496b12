import type { ItemId } from '../items';
import { folderOf } from '../paths';
import type { Rulebook } from '../rulebooks';
import type { PathKeys } from './path-keys';
import { factsOf, mayBe, type PlacedFile, type PlayerChoices, type Step, type ThereFile } from './step';

type Move = Extract<Step, { type: 'move' }>;

/** A file there that a run of ours put there and that nobody has changed since, as far as a listing tells. */
export interface Ours {
  readonly key: string;
  readonly file: ThereFile;
  readonly placed: PlacedFile;
}

/**
 * The player as it is, and what earlier runs know of it. What we have on record as placed is ours only while the player
 * still lists it as we left it. Nothing of it depends on what is planned.
 */
export class There {
  /** Folders that hold files which stay where they are, with all above them: their spelling stands. */
  readonly fixedFolders = new Map<string, string>();
  readonly files = new Map<string, ThereFile>();
  /** Further files of a key: a place may tell apart what the player takes for one. */
  readonly doubles = new Map<string, ThereFile[]>();
  readonly ours = new Map<string, Ours>();
  readonly oursOf = new Map<ItemId, Ours[]>();
  /** Files of ours that another hand has changed. */
  readonly changed = new Set<string>();
  readonly mayReplace: ReadonlySet<string>;
  /** Renames of others' files that will be done, by the key of their new path: decided before anything is named. */
  readonly renamed = new Map<string, Move>();
  /** Keys of all folders that hold something. */
  readonly folders = new Set<string>();

  constructor(
    readonly list: readonly ThereFile[],
    placed: readonly PlacedFile[],
    choices: PlayerChoices,
    private readonly keys: PathKeys,
    rulebook: Rulebook,
  ) {
    for (const file of list) {
      const key = keys.of(file.path);
      if (this.files.has(key)) this.doubles.set(key, [...(this.doubles.get(key) ?? []), file]);
      else this.files.set(key, file);
      for (let at = folderOf(file.path); at !== ''; at = folderOf(at)) {
        const folder = keys.of(at);
        if (this.folders.has(folder)) break;
        this.folders.add(folder);
      }
    }
    this.mayReplace = new Set(choices.replace.map((path) => keys.of(path)));
    for (const record of placed) this.claim(record);
    for (const ours of this.ours.values()) {
      const { item } = ours.placed;
      if (item !== null) this.oursOf.set(item, [...(this.oursOf.get(item) ?? []), ours]);
    }
    for (const rename of choices.renames) this.acceptRename(rename);
    if (rulebook.disk.caseSensitive) return;
    for (const [key, { path }] of this.files) if (!this.ours.has(key)) this.fixFolders(folderOf(path));
  }

  /** Whether anything is there that a plan may find in its way. */
  get hasWhatStays(): boolean {
    return this.files.size > this.ours.size || this.renamed.size > 0;
  }

  isFreeFor(from: string, to: string): boolean {
    return this.keys.of(from) === this.keys.of(to) || !this.files.has(this.keys.of(to));
  }

  private claim(placed: PlacedFile): void {
    const key = this.keys.of(placed.path);
    const file = this.files.get(key);
    if (!file) return;
    if (mayBe(file, placed)) this.ours.set(key, { key, file, placed });
    // The curator lets it go: whatever it is now, it is replaced or removed.
    else if (this.mayReplace.has(key))
      this.ours.set(key, { key, file, placed: { ...placed, ...file, path: placed.path, signature: '' } });
    else this.changed.add(key);
  }

  private fixFolders(folder: string): void {
    for (let at = folder; at !== ''; at = folderOf(at)) {
      const key = this.keys.of(at);
      if (this.fixedFolders.has(key)) return;
      this.fixedFolders.set(key, at);
    }
  }

  /** A rename that the curator asked for, where its file is still there and nothing stands at its new path. */
  private acceptRename({ from, to }: PlayerChoices['renames'][number]): void {
    const key = this.keys.of(from);
    const file = this.files.get(key);
    if (file?.path !== from || this.ours.has(key) || this.mayReplace.has(key) || !this.isFreeFor(from, to))
      return;
    if ([...this.renamed.values()].some((other) => other.from === from) || this.renamed.has(this.keys.of(to)))
      return;
    for (let at = folderOf(to); at !== ''; at = folderOf(at))
      if (this.files.has(this.keys.of(at)) || this.renamed.has(this.keys.of(at))) return;
    const was = factsOf(file, null);
    const move: Move = { type: 'move', from, path: to, item: null, was, replaces: null, signature: '' };
    this.renamed.set(this.keys.of(to), move);
  }
}
