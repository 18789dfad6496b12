/** The store that localForage makes in each of its databases, unless it is told another name. */
const STORE = 'keyvaluepairs';

/**
 * All records of a database with their keys, in one question: localForage goes from record to record, which of
 * thousands takes longer than reading them. The database must be there.
 * @throws {DOMException} when the browser cannot read it
 */
export function readAll<T>(database: string): Promise<readonly (readonly [string, T])[]> {
  return new Promise((resolve, reject) => {
    const open = indexedDB.open(database);
    open.onerror = () => reject(open.error as DOMException);
    open.onsuccess = () => {
      const db = open.result;
      const transaction = db.transaction(STORE);
      const keys = transaction.objectStore(STORE).getAllKeys();
      const values = transaction.objectStore(STORE).getAll() as IDBRequest<T[]>;
      transaction.oncomplete = () => {
        db.close();
        resolve(values.result.map((value, index) => [String(keys.result[index]), value]));
      };
      transaction.onabort = () => {
        db.close();
        reject(transaction.error as DOMException);
      };
    };
  });
}
