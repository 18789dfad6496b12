import { chosenAsFront, type FrontPicture, type ItemId } from '../../items';
import { folderOf } from '../../paths';
import { picturesFor, type PictureRules, type Rulebook } from '../../rulebooks';
import type { Outgoing } from '../names/outgoing';
import type { Findings } from '../findings/findings';
import type { Owner } from '../owner';
import type { PathKeys } from '../path-keys';
import { noPicture, NONE, pictureShape, tooLong as tooLongRemark, type Remark } from '../findings/remark';
import { topFolderOf } from '../shown/showing';
import type { PlayerChoices } from '../choices';
import { tooLong } from '../names/too-long';
import { pictureBeside, stepFor, type Want } from './want';
import type { World } from './world';

/** A picture, and the items in the folder that carry it. */
interface Carried {
  readonly picture: FrontPicture;
  readonly by: Set<Outgoing>;
  /** The first of them; null until it is searched for. */
  first: Outgoing | null;
}

/** A folder or top folder that gets a picture. */
interface Frame {
  readonly path: string;
  readonly owner: Owner;
  readonly rules: PictureRules;
  readonly members: Set<Outgoing>;
  readonly pictures: Map<string, Carried>;
  /** Items that came or went since the last update, while each of them has a remark. */
  readonly changed: Set<Outgoing>;
  want: Want | null;
  /** The item that its picture is taken from; for a chosen picture, the first item. */
  first: Outgoing | null;
  /** The picture that would be written if nothing was in its way; null if nothing is. */
  barred: Want | null;
  /** Remarks about its picture. */
  said: readonly Remark[];
  /** Remarks about each item in it while it has no picture. */
  without: Map<Outgoing, Remark> | null;
}

/** A top folder of a player that gets a picture. */
export interface TopFolderPicture {
  /** Path of the picture file. */
  readonly path: string;
  readonly items: number;
  /** Null if none of its items carries one and none was chosen. */
  readonly picture: FrontPicture | null;
  /** The item that the picture comes from; for a chosen picture, the first item. */
  readonly from: ItemId | null;
}

/** One picture for each folder and top folder that needs one: the picture that most of its items carry. */
export class FolderPictures {
  private readonly frames = new Map<string, Frame>();
  /** Frames by the key of the picture's path. */
  private readonly framesAt = new Map<string, Set<Frame>>();
  private readonly touched = new Set<Frame>();
  /** Frames whose path is occupied. */
  private readonly barredFrames = new Set<Frame>();
  /** Pictures that the curator chose, by the key of their path. */
  private readonly chosen: ReadonlyMap<string, FrontPicture>;

  constructor(
    private readonly rulebook: Rulebook,
    private readonly keys: PathKeys,
    private readonly world: World,
    private readonly findings: Findings,
    chosen: PlayerChoices['pictures'],
  ) {
    this.chosen = new Map(chosen.map(({ path, picture }) => [keys.of(path), chosenAsFront(picture)]));
  }

  join(out: Outgoing): void {
    for (const rules of picturesFor(this.rulebook, out.kind)) {
      const path = pathFor(out, rules);
      const frame = this.frames.get(path) ?? this.newFrame(path, rules);
      frame.members.add(out);
      const picture = pictureIn(out, rules);
      if (picture) carry(frame, picture, out);
      if (frame.without) frame.changed.add(out);
      this.touched.add(frame);
    }
  }

  leave(out: Outgoing): void {
    for (const rules of picturesFor(this.rulebook, out.kind)) {
      const frame = this.frames.get(pathFor(out, rules));
      if (!frame?.members.delete(out)) continue;
      const picture = pictureIn(out, rules);
      const carried = picture && frame.pictures.get(picture.key);
      if (carried) {
        carried.by.delete(out);
        if (carried.first === out) carried.first = null;
        if (carried.by.size === 0) frame.pictures.delete(carried.picture.key);
      }
      if (frame.without) frame.changed.add(out);
      this.touched.add(frame);
    }
  }

  settle(): void {
    for (const frame of this.touched) {
      this.settleFrame(frame);
      if (frame.members.size === 0) this.forget(frame);
    }
    this.touched.clear();
  }

  /** Remarks about the pictures of the folders that contain an item. */
  about(out: Outgoing): readonly Remark[] {
    return picturesFor(this.rulebook, out.kind).flatMap((rules) => {
      const frame = this.frames.get(pathFor(out, rules));
      const own = frame?.without?.get(out);
      return [...(frame?.said ?? []), ...(own ? [own] : [])];
    });
  }

  /** Top folders that get a picture, by name. */
  topFolders(): readonly TopFolderPicture[] {
    return [...this.frames.values()]
      .filter(({ rules, members }) => rules.of === 'topFolder' && members.size > 0)
      .map(({ path, want, first, members }) => ({
        path,
        items: members.size,
        picture: want?.making.type === 'writePicture' ? want.making.picture : null,
        from: (want && first?.entry.id) ?? null,
      }))
      .sort((a, b) => (a.path < b.path ? -1 : 1));
  }

  /** Looks again at pictures affected by decisions, and at those whose path is occupied. */
  lookAgain(keys: ReadonlySet<string>): void {
    for (const frame of this.barredFrames) this.touched.add(frame);
    for (const key of keys) for (const frame of this.framesAt.get(key) ?? []) this.touched.add(frame);
  }

  /** Pictures whose path is occupied. */
  barred(): readonly Want[] {
    return [...this.barredFrames].flatMap(({ barred }) => barred ?? []);
  }

  private newFrame(path: string, rules: PictureRules): Frame {
    const frame = emptyFrame(path, rules);
    const key = this.keys.of(path);
    this.frames.set(path, frame);
    this.framesAt.set(key, (this.framesAt.get(key) ?? new Set()).add(frame));
    return frame;
  }

  private forget(frame: Frame): void {
    const key = this.keys.of(frame.path);
    this.frames.delete(frame.path);
    this.barredFrames.delete(frame);
    const alike = this.framesAt.get(key);
    if (alike?.delete(frame) && alike.size === 0) this.framesAt.delete(key);
  }

  /** The picture chosen by the curator, under its first item; otherwise the one that most items carry. */
  private pictureFor(frame: Frame): Carried | null {
    const chosen = this.chosen.get(this.keys.of(frame.path));
    if (!chosen || frame.members.size === 0) return usualPicture(frame);
    let first: Outgoing | null = null;
    for (const out of frame.members) if (!first || out.order < first.order) first = out;
    return { picture: chosen, by: new Set([first as Outgoing]), first };
  }

  private settleFrame(frame: Frame): void {
    const { rules, path, owner } = frame;
    const best = this.pictureFor(frame);
    const isNeeded = rules.role === 'front';
    this.tellWithout(frame, isNeeded && best === null);
    this.world.settlePicture(path, best?.picture ?? null);
    frame.changed.clear();
    const said: Remark[] = [];
    let want: Want | null = null;
    frame.barred = frame.first = null;
    if (best) {
      const { picture, by } = best;
      const first = firstOf(best);
      frame.first = first;
      if (isNeeded && !isShaped(picture, rules))
        for (const { entry } of [...by].sort((a, b) => a.order - b.order))
          said.push(pictureShape(entry, picture, folderOf(path), rules.minPixels));
      const long = tooLong(path, this.rulebook);
      const barred = this.world.inTheWay(path, first.entry, 'warns');
      if (long) said.push(tooLongRemark(first.entry, path, long, 'warns'));
      else if (barred) {
        said.push(barred);
        frame.barred = pictureBeside(first, owner, path, picture, this.keys);
      } else want = this.wanted(frame, first, picture);
    }
    if (frame.barred) this.barredFrames.add(frame);
    else this.barredFrames.delete(frame);
    frame.said = this.findings.exchange(frame.said, said);
    if (want === frame.want) return;
    if (frame.want) this.world.unwant(frame.want);
    if (want) this.world.want(want);
    frame.want = want;
  }

  /** The same object as before if nothing about it changed. */
  private wanted({ want, path, owner }: Frame, out: Outgoing, picture: FrontPicture): Want {
    const next = pictureBeside(out, owner, path, picture, this.keys);
    const isSame = want && JSON.stringify(stepFor(want, null)) === JSON.stringify(stepFor(next, null));
    return isSame && want.order === next.order ? want : next;
  }

  /** If no item carries a picture, each of them gets a remark. Items that had one already are skipped. */
  private tellWithout(frame: Frame, lacks: boolean): void {
    const told = frame.without;
    if (!lacks) {
      for (const remark of told?.values() ?? []) this.findings.remove(remark);
      frame.without = null;
      return;
    }
    const without = told ?? new Map<Outgoing, Remark>();
    for (const out of told ? frame.changed : frame.members) {
      const known = without.get(out);
      if (known) this.findings.remove(known);
      without.delete(out);
      if (!frame.members.has(out)) continue;
      const remark = noPicture(out.entry, frame.rules.of, folderOf(frame.path));
      without.set(out, remark);
      this.findings.add(remark);
    }
    frame.without = without;
  }
}

const emptyFrame = (path: string, rules: PictureRules): Frame => ({
  path,
  owner: { type: rules.of === 'folder' ? 'shelf' : 'topFolder', folder: folderOf(path) },
  rules,
  members: new Set(),
  pictures: new Map(),
  changed: new Set(),
  want: null,
  first: null,
  barred: null,
  said: NONE,
  without: null,
});

const pictureIn = ({ item }: Outgoing, { role }: PictureRules): FrontPicture | null =>
  role === 'artist' ? item.makerPicture : item.picture;

function pathFor(out: Outgoing, { of, name }: PictureRules): string {
  const folder = of === 'folder' ? out.folder : topFolderOf(out.place, out.path);
  return folder === '' ? name : `${folder}/${name}`;
}

function carry(frame: Frame, picture: FrontPicture, out: Outgoing): void {
  const known = frame.pictures.get(picture.key);
  if (!known) {
    frame.pictures.set(picture.key, { picture, by: new Set([out]), first: out });
    return;
  }
  known.by.add(out);
  if (known.first && out.order < known.first.order) known.first = out;
}

function isShaped({ width, height }: FrontPicture, rules: PictureRules): boolean {
  if (width === null || height === null) return false;
  return Math.min(width, height) >= rules.minPixels && (!rules.square || width === height);
}

/** The picture that most items carry. One chosen by the curator takes precedence over those that came with files. */
function usualPicture({ pictures }: Frame): Carried | null {
  let best: Carried | null = null;
  for (const one of pictures.values()) if (!best || comesBefore(one, best)) best = one;
  return best;
}

function comesBefore(one: Carried, other: Carried): boolean {
  const by = rank(one) - rank(other);
  return by === 0 ? firstOf(one).order < firstOf(other).order : by > 0;
}

const rank = ({ picture, by }: Carried) => by.size + (picture.chosen ? 1e9 : 0);

function firstOf(carried: Carried): Outgoing {
  if (!carried.first)
    for (const out of carried.by) if (!carried.first || out.order < carried.first.order) carried.first = out;
  return carried.first as Outgoing;
}
