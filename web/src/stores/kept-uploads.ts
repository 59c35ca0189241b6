/** An upload that is not through yet, as the page remembers it over a reload. */
export interface KeptUpload {
  key: string;
  projectId: number;
  /** The shot whose plate it becomes, or null. */
  shotId: number | null;
  name: string;
  size: number;
  url: string | null;
}

const DATABASE = 'yarlop';
const STORE = 'uploads';

function open(): Promise<IDBDatabase> {
  return new Promise((resolve, reject) => {
    const request = indexedDB.open(DATABASE, 1);
    request.onupgradeneeded = () => request.result.createObjectStore(STORE, { keyPath: 'key' });
    request.onsuccess = () => resolve(request.result);
    request.onerror = () => reject(request.error ?? new Error('the browser keeps nothing'));
  });
}

async function run<T>(mode: IDBTransactionMode, work: (store: IDBObjectStore) => IDBRequest<T>): Promise<T | null> {
  // A browser that keeps nothing (a private window, a full disk) only loses the going on after a reload.
  try {
    const database = await open();
    return await new Promise<T>((resolve, reject) => {
      const request = work(database.transaction(STORE, mode).objectStore(STORE));
      request.onsuccess = () => resolve(request.result);
      request.onerror = () => reject(request.error ?? new Error('the browser keeps nothing'));
    }).finally(() => database.close());
  } catch {
    return null;
  }
}

/** Files beyond this are not kept by the page: after a reload the person chooses them again, and the upload goes on. */
export const KEEP_BYTES = 4 * 2 ** 30;

export async function keepUpload(upload: KeptUpload, file: Blob): Promise<void> {
  await run('readwrite', (store) => store.put(file.size <= KEEP_BYTES ? { ...upload, file } : upload));
}

export async function dropUpload(key: string): Promise<void> {
  await run('readwrite', (store) => store.delete(key));
}

export async function keptUploads(): Promise<(KeptUpload & { file?: Blob })[]> {
  return (await run('readonly', (store) => store.getAll() as IDBRequest<(KeptUpload & { file?: Blob })[]>)) ?? [];
}
