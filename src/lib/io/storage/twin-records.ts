import type { ItemId } from '$lib/core/items';
import type { Twin } from '$lib/core/twins';
import type { Databases } from './databases';
import { KEPT } from './kept';
import { PlainRecords } from './records';

interface KeptTwins {
  readonly version: number;
  readonly twins: readonly Twin[];
}

/** What twins there are of each item; those that another version noted are as good as none, and are made again. */
export class TwinRecords {
  private readonly records: PlainRecords<ItemId, KeptTwins>;
  private readonly version = KEPT.twins.record;

  constructor(databases: Databases) {
    this.records = new PlainRecords(databases, 'twins');
  }

  async all(): Promise<Map<ItemId, readonly Twin[]>> {
    const all = new Map<ItemId, readonly Twin[]>();
    for (const [item, { version, twins }] of await this.records.all())
      if (version === this.version) all.set(item, twins);
    return all;
  }

  /** Keeps all twins that an item has; none drops its record. */
  keep(item: ItemId, twins: readonly Twin[]): Promise<void> {
    return twins.length === 0
      ? this.records.drop(item)
      : this.records.keep(item, { version: this.version, twins });
  }
}
