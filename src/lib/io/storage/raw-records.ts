/** The store that localForage makes in each of its databases, unless it is told another name. */
const STORE = 'keyvaluepairs';
/** Milliseconds after which a database that is being deleted is gone. */
const LATER = 200;

/**
 * All records of a database with their keys, in one question: localForage goes from record to record, which of
 * thousands takes longer than reading them. The database must be there.
 * @throws {DOMException} when the browser cannot read it
 */
export async function readAll<T>(database: string): Promise<readonly (readonly [string, T])[]> {
  const db = await opened(database);
  try {
    const [keys, values] = await asked(db, (store) => [store.getAllKeys(), store.getAll()] as const);
    return (values.result as T[]).map((value, index) => [String(keys.result[index]), value]);
  } finally {
    db.close();
  }
}

/**
 * The records of some keys, in their order; undefined for those that are not there. They are asked for some at a time,
 * since each question takes longer than a record, and some are on their way while others are looked at. The database
 * must be there.
 * @throws {DOMException} when the browser cannot read it
 */
export async function* readInTurn<T>(
  database: string,
  keys: readonly string[],
  atOnce: number,
): AsyncGenerator<T | undefined> {
  const db = await opened(database);
  const ask = (from: number) => {
    const coming = asked(db, (store) => keys.slice(from, from + atOnce).map((key) => store.get(key)));
    // Whoever stops half way does not wait for it any more.
    coming.catch(() => {});
    return coming;
  };
  try {
    let coming = ask(0);
    for (let from = 0; from < keys.length; from += atOnce) {
      const next = ask(from + atOnce);
      for (const { result } of await coming) yield result as T | undefined;
      coming = next;
    }
  } finally {
    db.close();
  }
}

/**
 * Calls once when a database may have been deleted under the page. It must be there.
 * @throws {DOMException} when the browser cannot open it
 */
export async function whenDeleted(database: string, call: () => void): Promise<void> {
  const db = await opened(database);
  let isTold = false;
  const tell = () => {
    // The browser does not delete it before this is closed.
    db.close();
    if (!isTold) setTimeout(call, LATER);
    isTold = true;
  };
  db.onclose = tell;
  db.onversionchange = tell;
}

function opened(database: string): Promise<IDBDatabase> {
  return new Promise((resolve, reject) => {
    const open = indexedDB.open(database);
    open.onerror = () => reject(open.error);
    open.onsuccess = () => resolve(open.result);
  });
}

/** Asks in one transaction, and answers once all has come. */
function asked<R>(db: IDBDatabase, ask: (store: IDBObjectStore) => R): Promise<R> {
  return new Promise((resolve, reject) => {
    const transaction = db.transaction(STORE);
    const requests = ask(transaction.objectStore(STORE));
    transaction.oncomplete = () => resolve(requests);
    transaction.onabort = () => reject(transaction.error);
  });
}
