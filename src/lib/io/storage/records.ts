import { KEPT, type DatabaseName } from './kept';
import type { Databases } from './databases';

/** Records within a kind, each as it is, by keys of its own. */
export class PlainRecords<K extends string, V> {
  constructor(
    private readonly databases: Databases,
    private readonly name: DatabaseName,
  ) {}

  async keep(key: K, value: V): Promise<void> {
    await this.databases.writable(this.name).setItem(key, value);
  }

  async find(key: K): Promise<V | null> {
    return this.databases.readable(this.name).getItem<V>(key);
  }

  async drop(key: K): Promise<void> {
    await this.databases.writable(this.name).removeItem(key);
  }

  async all(): Promise<Map<K, V>> {
    const all = new Map<K, V>();
    await this.databases.readable(this.name).iterate<V, void>((value, key) => {
      all.set(key as K, value);
    });
    return all;
  }
}

/** Records that are made again where they are missed: one of another version is as good as none. */
export class PassingRecords<K extends string, V extends object> {
  private readonly records: PlainRecords<K, V & { readonly version: number }>;
  private readonly version: number;

  constructor(databases: Databases, name: 'seen' | 'rehearsals' | 'levels' | 'making') {
    this.records = new PlainRecords(databases, name);
    this.version = KEPT[name].record;
  }

  async keep(key: K, value: V): Promise<void> {
    await this.records.keep(key, { version: this.version, ...value });
  }

  /** Null where nothing is kept of it, or another version did. */
  async find(key: K): Promise<V | null> {
    const kept = await this.records.find(key);
    return kept?.version === this.version ? kept : null;
  }
}

/** Files that lie in no folder of the curator's. */
export class FileRecords<S extends string> {
  private readonly records: PlainRecords<string, Blob>;

  constructor(databases: Databases) {
    this.records = new PlainRecords(databases, 'files');
  }

  keep(source: S, path: string, file: Blob): Promise<void> {
    return this.records.keep(`${source}/${path}`, file);
  }

  find(source: S, path: string): Promise<Blob | null> {
    return this.records.find(`${source}/${path}`);
  }

  drop(source: S, path: string): Promise<void> {
    return this.records.drop(`${source}/${path}`);
  }
}
