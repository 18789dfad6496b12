import { array, number, object, string, type Schema } from 'yup';

/*
 * What stand-ins answer, held to the very shape that they promise: a name that is misspelt here, or no longer sent there,
 * fails the test that asks, in place of comparing nothing with nothing.
 */

interface Asker {
  get(url: string): Promise<{ ok(): boolean; status(): number; json(): Promise<unknown> }>;
}

export interface DeviceFile {
  readonly path: string;
  /** Bytes. */
  readonly size: number;
  /** SHA-256 in hexadecimal. */
  readonly digest: string;
}

const files = object({
  files: array(
    object({
      path: string().required(),
      size: number().integer().min(0).required(),
      digest: string()
        .required()
        .matches(/^[0-9a-f]{64}$/),
    })
      .noUnknown()
      .required(),
  ).required(),
}).noUnknown();

/** An answer of exactly this shape. @throws when it is no answer, or of another one */
async function answered<T>(request: Asker, url: string, schema: Schema<T>): Promise<T> {
  const answer = await request.get(url);
  if (!answer.ok()) throw new Error(`${url} answered ${answer.status()}`);
  return schema.validateSync(await answer.json(), { strict: true });
}

/** Files on a device, in the open or right in one folder, by their paths. */
export async function filesOn(
  request: Asker,
  device: string,
  folder: string | null = null,
): Promise<readonly DeviceFile[]> {
  const query = folder === null ? '' : `?in=${encodeURIComponent(folder)}`;
  const { files: all } = await answered(request, `/devices/${device}/files${query}`, files);
  return [...all].sort((a, b) => (a.path < b.path ? -1 : 1));
}

/** Their paths alone. */
export const pathsOn = async (request: Asker, device: string): Promise<readonly string[]> =>
  (await filesOn(request, device)).map(({ path }) => path);
