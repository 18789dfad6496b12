import { BlobReader, BlobWriter, ZipWriter } from '@zip.js/zip.js/lib/zip-core-external.js';
import { fieldsOf, kindOf, titleOf, type Item } from '$lib/core/items';
import { patternValues, sourceNames } from '$lib/core/naming';
import { jobOf } from '$lib/core/originals';
import { toldKindOf } from '$lib/core/plan';
import { extensionOf } from '$lib/core/paths';
import { outgoingOf } from '$lib/formats';
import { OriginalsClient } from '$lib/workers/originals-client';
import { KeptPattern } from './kept-pattern.svelte';
import type { Library } from './library.svelte';
import type { Work } from './work.svelte';

/** A finished file of one item. */
export interface FinishedCopy {
  readonly name: string;
  readonly file: Blob;
  /** Fields and other parts that its format cannot store. */
  readonly unheld: number;
}

/** Files of items with all that is said of them, saved without a player. Originals and players stay as they are. */
export class HandOut {
  /** The name of a file. */
  readonly pattern = new KeptPattern('lectorum-hand-out', '{:albumArtist|artist|show - }:title|sourceName');
  private readonly client = new OriginalsClient();

  constructor(
    private readonly library: Library,
    private readonly work: Work,
  ) {}

  end(): void {
    this.client.end();
  }

  /** The path of an item's file by the pattern; its own name while the pattern has a problem. */
  pathOf(item: Item): string {
    const source = sourceNames(item.path);
    const path = this.pattern.pathFor(patternValues(fieldsOf(item), kindOf(item), source));
    const extension = extensionOf(item.path);
    return `${path ?? source.name}${extension === '' ? '' : `.${extension}`}`;
  }

  /** Makes the finished file of an item. @throws {Error} saying why it cannot be made */
  async make(item: Item): Promise<FinishedCopy> {
    const outgoing = item.facts.locked ? null : outgoingOf(item, toldKindOf(item));
    const job = jobOf(item, outgoing?.edits ?? {}, outgoing?.kind ?? null);
    const file = await this.client.finished(this.library.name, job);
    return { name: this.pathOf(item), file, unheld: outgoing?.unheld.length ?? 0 };
  }

  /** Saves the finished files of items: one by itself, several as a ZIP. One that fails is named, and the rest goes on. */
  async save(items: readonly Item[], download: (file: Blob, name: string) => void): Promise<void> {
    let isCancelled = false;
    const job = this.work.start('Make finished files', items.length, () => (isCancelled = true));
    const zip =
      items.length > 1
        ? new ZipWriter(new BlobWriter('application/zip'), { level: 0, useWebWorkers: false })
        : null;
    const names = new Set<string>();
    const failed: string[] = [];
    let unheld = 0;
    for (const [index, item] of items.entries()) {
      if (isCancelled) break;
      try {
        const finished = await this.make(item);
        if (finished.unheld > 0) unheld++;
        if (zip) await zip.add(freeName(finished.name, names), new BlobReader(finished.file));
        else download(finished.file, finished.name.slice(finished.name.lastIndexOf('/') + 1));
      } catch (error) {
        failed.push(`${titleOf(item)}: ${error instanceof Error ? error.message : String(error)}`);
      }
      job.progress(index + 1);
    }
    if (isCancelled) return job.finish('Nothing was saved');
    if (zip && failed.length < items.length)
      download(await zip.close(), `${titleOf(items[0] as Item)} and more.zip`);
    const saved = items.length - failed.length;
    const words = [
      `${saved} finished ${saved === 1 ? 'file' : 'files'} saved`,
      ...(unheld > 0 ? [`${unheld} cannot store all fields`] : []),
      ...(failed.length > 0 ? [`${failed.length} failed: ${failed[0]}`] : []),
    ];
    job.finish(words.join('; '), failed.length > 0);
  }
}

/** A path that no other file of the ZIP has, letter case aside. */
function freeName(wanted: string, taken: Set<string>): string {
  const dot = wanted.lastIndexOf('.');
  const at = dot > wanted.lastIndexOf('/') ? dot : wanted.length;
  for (let count = 1; ; count++) {
    const name = count === 1 ? wanted : `${wanted.slice(0, at)} (${count})${wanted.slice(at)}`;
    if (taken.has(name.toLowerCase())) continue;
    taken.add(name.toLowerCase());
    return name;
  }
}
