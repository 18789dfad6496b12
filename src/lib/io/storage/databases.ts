import localforage from 'localforage';
import { KEPT, type DatabaseName } from './kept';
import { readAll, readInTurn, whenDeleted } from './raw-records';

/** A write that was refused, since another tab works on the library. */
export class LookingOnError extends Error {
  override readonly name = 'LookingOnError';
  constructor() {
    super('another tab works on this library; what was changed here since is not kept');
  }
}

/** Records by their keys. */
export type Records = Pick<LocalForage, 'getItem' | 'setItem' | 'removeItem' | 'keys' | 'iterate' | 'clear'>;

/** The databases of one library: each is made at its first use. */
export class Databases {
  private readonly made = new Map<DatabaseName, LocalForage>();

  /** @param mayWrite asked before every write: if it returns false, a LookingOnError is thrown */
  constructor(
    readonly library: string,
    private readonly mayWrite: () => boolean,
  ) {}

  readable(name: DatabaseName): Records {
    return this.database(name);
  }

  /** The one way to change something. @throws {LookingOnError} */
  writable(name: DatabaseName): Records {
    if (!this.mayWrite()) throw new LookingOnError();
    return this.database(name);
  }

  /** All records of a database, at once. */
  async readAll<T>(name: DatabaseName): Promise<readonly (readonly [string, T])[]> {
    await this.database(name).ready();
    return readAll<T>(this.nameOf(name));
  }

  /** Records of some keys, in order, in groups; undefined for missing ones. */
  async *readInTurn<T>(
    name: DatabaseName,
    keys: readonly string[],
    atOnce: number,
  ): AsyncGenerator<T | undefined> {
    await this.database(name).ready();
    yield* readInTurn<T>(this.nameOf(name), keys, atOnce);
  }

  /**
   * Calls when the stored data is deleted, as far as the browser reports it: it does when data of the site is cleared.
   * Something must have been stored.
   */
  whenDeleted(call: () => void): Promise<void> {
    return whenDeleted(this.nameOf('library'), call);
  }

  /** Forgets everything of this library. */
  async clear(): Promise<void> {
    for (const name of Object.keys(KEPT) as DatabaseName[]) await this.writable(name).clear();
  }

  private nameOf(name: DatabaseName): string {
    return `lectorum-${this.library}-${name}`;
  }

  private database(name: DatabaseName): LocalForage {
    let database = this.made.get(name);
    if (!database) {
      database = localforage.createInstance({ driver: localforage.INDEXEDDB, name: this.nameOf(name) });
      this.made.set(name, database);
    }
    return database;
  }
}
