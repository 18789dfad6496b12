import type { CheckedFile, LibraryFilePart, LibraryFileRequest } from './library-file-protocol';
import { newWorker } from './new-worker';
import { WorkerClient, type Port } from './worker-client';

/** Milliseconds for a whole library on a slow machine. */
const LIMIT = 1_800_000;

/** A worker for one library file; end it when the file is read. */
export class LibraryFileClient {
  private readonly client: WorkerClient<LibraryFileRequest>;

  constructor(makePort: () => Port = () => newWorker('libraryFile')) {
    this.client = new WorkerClient(makePort);
  }

  /** Looks through all of a file. @throws {WorkerError} with what is wrong with it */
  check(file: Blob, onPart: (part: LibraryFilePart) => void): Promise<CheckedFile> {
    return this.client.ask({ type: 'check', file }, { limit: LIMIT, onPart });
  }

  /** Hands over what is in the file that was looked through. */
  read(onPart: (part: LibraryFilePart) => void): Promise<null> {
    return this.client.ask({ type: 'read' }, { limit: LIMIT, onPart });
  }

  end(): void {
    this.client.end();
  }
}
