import { waits, type Item, type ItemId, type SourceId } from '$lib/core/items';
import { KIND_FACTS, type Kind } from '$lib/core/kinds';
import { folderOf, isBelow } from '$lib/core/paths';
import { guessAround } from './guess-around';
import type { Library } from './library.svelte';
import type { Listening } from './listening.svelte';
import type { Work } from './work.svelte';

/** Files of one take-in that are listened to unasked. */
const MOST_HEARD = 24;

/** The kinds of items: confirmed, corrected, set for folders, and guessed again after such changes. */
export class KindDesk {
  constructor(
    private readonly library: Library,
    private readonly work: Work,
    private readonly listening: Listening,
  ) {}

  confirm(items: readonly Item[]): void {
    const waiting = items.filter((item) => item.settled === null && item.guess.kind !== null);
    if (waiting.length > 0)
      this.library.settle(`Confirm ${waiting.length}`, waiting, (item) => item.guess.kind);
  }

  /** Confirms every kind that is likely among these. */
  confirmLikely(items: readonly Item[]): void {
    this.confirm(items.filter((item) => waits(item) && item.guess.certainty === 'likely'));
  }

  /** Sets a kind. If that corrects a guess, others in the folder are guessed again. */
  settle(items: readonly Item[], kind: Kind): void {
    this.library.settle(`Kind of ${items.length}`, items, () => kind);
    const corrected = items.filter(({ guess }) => guess.kind !== kind);
    if (corrected.length === 0) return;
    const folders = new Set(corrected.map(({ source, path }) => `${source}\n${folderOf(path)}`));
    for (const place of folders) {
      const [source = '', folder = ''] = place.split('\n');
      this.library.setFolderKind(source as SourceId, folder, 'correction', kind);
    }
    void this.guessAgain(
      this.library.items.filter(
        (item) => item.settled === null && folders.has(`${item.source}\n${folderOf(item.path)}`),
      ),
    );
  }

  /**
   * Sets the kind of a folder by rule, for present items without a set kind and for new ones. Null removes the rule.
   */
  setFolderRule(item: Item, kind: Kind | null): void {
    const folder = folderOf(item.path);
    this.library.setFolderKind(item.source, folder, 'rule', kind);
    void this.guessAgain(
      this.library.items.filter(
        ({ source, path, settled }) => settled === null && source === item.source && isBelow(path, folder),
      ),
    );
    this.work.say(
      kind === null
        ? `Folder rule of ${folder || 'the root'} removed`
        : `Folder rule: ${folder || 'the root'} holds ${KIND_FACTS[kind].many}`,
    );
  }

  /**
   * Listens to sound whose kind all other evidence leaves open: what is spoken is no song. It goes on in the
   * background, for a few files at most; a check listens to the others.
   */
  async listenWhereOpen(ids: readonly ItemId[]): Promise<void> {
    const open = this.library
      .findAll(ids)
      .filter(
        ({ settled, guess, facts }) =>
          settled === null &&
          (guess.certainty === 'open' || guess.certainty === 'guess') &&
          facts.streams.every(({ type }) => type === 'sound'),
      )
      .slice(0, MOST_HEARD);
    const speech = new Map<ItemId, number | null>();
    for (const item of open) {
      const heard = await this.listening.hear(item);
      if (heard.type === 'heard') speech.set(item.id, heard.listened.speech);
    }
    if (speech.size > 0) this.library.put(await guessAround(this.library, speech.keys(), speech));
  }

  private async guessAgain(items: readonly Item[]): Promise<void> {
    this.library.put(
      await guessAround(
        this.library,
        items.map(({ id }) => id),
      ),
    );
  }
}
