import { array, number, object, string } from 'yup';
import type { ByteSource } from '$lib/core/bytes';
import type { PlayerScan, ThereFile } from '$lib/core/plan';
import {
  type TargetRoom,
  StoreError,
  type Store,
  type StoreErrorCode,
  type WrittenFile,
} from '$lib/core/run';
import { blobSource } from '../blob-source';
import { digestOf } from '../digest';
import { readDeviceScan } from './device-scan';
import { told } from './folder-store';

const fileSchema = object({
  path: string().required(),
  size: number().required(),
  digest: string().required(),
}).required();
const listSchema = object({ files: array(fileSchema).required() }).required();

const STATUS_CODES: Readonly<Record<number, StoreErrorCode>> = { 404: 'gone', 409: 'exists', 507: 'full' };

const roomSchema = object({
  room: number().required(),
  used: number().required(),
  others: number().required(),
}).required();

/** A device of the house over HTTP. */
export class DeviceStore implements Store<Blob> {
  private readonly base: string;

  constructor(
    device: string,
    /** Milliseconds without an answer after which it counts as out of reach. */
    private readonly patience = 60_000,
  ) {
    this.base = `/devices/${encodeURIComponent(device)}`;
  }

  /** @throws {StoreError} `unreachable` where it does not answer */
  async room(): Promise<TargetRoom> {
    const answer = await this.ask(this.base, '', {});
    return roomSchema.validateSync(await answer.json(), { strict: true });
  }

  async list(): Promise<readonly ThereFile[]> {
    return this.listBy('', '');
  }

  async listHeld(folder: string): Promise<readonly ThereFile[]> {
    return this.listBy(`?in=${encodeURIComponent(folder)}`, folder);
  }

  private async listBy(query: string, path: string): Promise<readonly ThereFile[]> {
    const answer = await this.ask(`${this.base}/files${query}`, path, {});
    return listSchema.validateSync(await answer.json(), { strict: true }).files;
  }

  /** Picture type, by its own scan. */
  async scan(): Promise<PlayerScan> {
    const answer = await this.ask(`${this.base}/shelves`, '', {});
    return readDeviceScan(await answer.json());
  }

  async makeFolder(path: string): Promise<void> {
    await this.ask(`${this.url(path)}?as=folder`, path, { method: 'PUT' });
  }

  async hasFolder(path: string): Promise<boolean> {
    try {
      await this.ask(`${this.url(path)}?as=folder`, path, { method: 'HEAD' });
      return true;
    } catch (error) {
      if (error instanceof StoreError && error.code === 'gone') return false;
      throw error;
    }
  }

  async write(path: string, content: Blob): Promise<WrittenFile> {
    const headers = { 'content-type': 'application/octet-stream' };
    // Browsers do not stream uploads to a plain server, so the digest is taken in a pass of its own.
    const digest = await told(path, () => digestOf(blobSource(content)));
    await this.ask(this.url(path), path, { method: 'PUT', body: content, headers });
    return { size: content.size, digest };
  }

  async move(from: string, to: string): Promise<void> {
    const headers = { 'content-type': 'application/json' };
    await this.ask(this.url(from), from, { method: 'PATCH', body: JSON.stringify({ to }), headers });
  }

  async remove(path: string): Promise<void> {
    await this.ask(this.url(path), path, { method: 'DELETE' });
  }

  async removeEmptyFolder(path: string): Promise<void> {
    await this.ask(`${this.url(path)}?as=folder`, path, { method: 'DELETE' });
  }

  async find(path: string): Promise<ThereFile | null> {
    try {
      const { headers } = await this.ask(this.url(path), path, { method: 'HEAD' });
      return {
        path,
        size: Number(headers.get('x-size')),
        digest: headers.get('etag')?.replaceAll('"', '') ?? null,
      };
    } catch (error) {
      if (error instanceof StoreError && error.code === 'gone') return null;
      throw error;
    }
  }

  async read(path: string): Promise<ByteSource> {
    const found = await this.find(path);
    if (!found) throw new StoreError('gone', path);
    return {
      size: found.size,
      read: async (start, end) => {
        if (end <= start) return new Uint8Array(0);
        const answer = await this.ask(this.url(path), path, {
          headers: { range: `bytes=${start}-${end - 1}` },
        });
        return new Uint8Array(await answer.arrayBuffer());
      },
    };
  }

  private url(path: string): string {
    return `${this.base}/files/${path.split('/').map(encodeURIComponent).join('/')}`;
  }

  private async ask(url: string, path: string, init: RequestInit): Promise<Response> {
    // A large upload may take its time; only an answer to the rest is waited for briefly.
    const signal = init.body instanceof Blob ? undefined : AbortSignal.timeout(this.patience);
    let answer: Response;
    try {
      answer = await fetch(url, { ...init, signal });
    } catch (error) {
      throw new StoreError('unreachable', path, error instanceof Error ? error.message : '');
    }
    if (answer.ok) return answer;
    const told = (await answer.json().catch(() => null)) as { readonly message?: unknown } | null;
    const detail = typeof told?.message === 'string' ? told.message : '';
    if (answer.status >= 500 && answer.status !== 507)
      throw new StoreError('unreachable', path, detail || `status ${answer.status}`);
    throw new StoreError(STATUS_CODES[answer.status] ?? 'refused', path, detail);
  }
}
