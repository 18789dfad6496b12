/** A stand-in for the browser's storage: databases of keys, whose values are copied as the browser copies them. */
export const databases = new Map<string, Map<string, unknown>>();
/** Writes so far, by database and key. */
export const writes: string[] = [];

/** Forgets all databases and writes. */
export function forgetAll(): void {
  databases.clear();
  writes.length = 0;
}

let writesLeft: number | null = null;

/** Lets this many writes through from now on and refuses all others, as a browser that ran full. Null lets all through. */
export function refuseAfter(count: number | null): void {
  writesLeft = count;
}

/** Pages so far, and how many writes the one that is open may still do before its end. */
let pageNow = 0;
let writesOfPage: number | null = null;
let tellEnd = () => {};

/**
 * Ends the page after this many writes: whatever it asks for then is never answered, as if the process had gone.
 * @returns resolves when that is so
 */
export function endPageAfter(count: number): Promise<void> {
  writesOfPage = count;
  return new Promise((resolve) => (tellEnd = resolve));
}

/** How many writes the page may still do; null where nothing ends it. */
export const writesOfThisPage = (): number | null => writesOfPage;

/** A new page: what the one before left is there, and what it still asks for is not answered. */
export function newPage(): void {
  pageNow++;
  writesOfPage = null;
}

/** Whether a page is at its end. A write counts. */
function isOver(page: number, isWrite: boolean): boolean {
  if (page !== pageNow) return true;
  if (writesOfPage === null) return false;
  if (isWrite && writesOfPage > 0) {
    writesOfPage--;
    return false;
  }
  if (writesOfPage > 0 || !isWrite) return false;
  pageNow++;
  tellEnd();
  return true;
}

const never = () => new Promise<never>(() => {});

/** What belongs to a page: it is never answered once that has ended. */
export async function ofPage<T>(act: () => Promise<T>): Promise<T> {
  const page = pageNow;
  const result = await act();
  return page === pageNow ? result : never();
}

let asked: string[] = [];

/** Notes what is asked for of databases in what is done, by database and key; all of one by the database alone. */
export async function asking<T>(into: string[], what: () => Promise<T>): Promise<T> {
  asked = into;
  try {
    return await what();
  } finally {
    asked = [];
  }
}

/** As much of the browser's own way to databases as reading many records of one takes. */
function openDatabase(name: string) {
  const records = databases.get(name) ?? new Map<string, unknown>();
  const store = {
    getAllKeys: () => ({ result: [...records.keys()] }),
    getAll: () => {
      asked.push(name);
      return { result: [...records.values()].map((value) => structuredClone(value)) };
    },
    get: (key: string) => {
      asked.push(`${name} ${key}`);
      return { result: structuredClone(records.get(key)) };
    },
  };
  const begin = () => {
    const transaction = { oncomplete: () => {}, objectStore: () => store };
    queueMicrotask(() => transaction.oncomplete());
    return transaction;
  };
  const request = { onsuccess: () => {}, result: { transaction: begin, close: () => {} } };
  queueMicrotask(() => request.onsuccess());
  return request;
}
Object.assign(globalThis, { indexedDB: { open: openDatabase } });

export default {
  INDEXEDDB: 'asyncStorage',
  createInstance({ name }: { name: string }) {
    const keys = databases.get(name) ?? new Map<string, unknown>();
    databases.set(name, keys);
    const page = pageNow;
    return {
      ready: async () => {},
      getItem: async (key: string) => {
        if (isOver(page, false)) return never();
        return keys.has(key) ? structuredClone(keys.get(key)) : null;
      },
      setItem: async (key: string, value: unknown) => {
        if (isOver(page, true)) return never();
        if (writesLeft !== null && writesLeft-- <= 0) throw new Error('QuotaExceededError');
        keys.set(key, structuredClone(value));
        writes.push(`${name} ${key}`);
      },
      removeItem: async (key: string) => {
        if (isOver(page, true)) return never();
        keys.delete(key);
      },
      keys: async () => [...keys.keys()],
      iterate: async (each: (value: unknown, key: string) => void) => {
        for (const [key, value] of keys) each(structuredClone(value), key);
      },
      clear: async () => keys.clear(),
    };
  },
};
