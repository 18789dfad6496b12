/*
 * Shapes of data that comes from outside by the hundred thousand. Yup is asked wherever a curator waits for one
 * answer; for every item of a large library it would take minutes, so these few words do the same for plain JSON.
 */

/** Returns the first wrong place as a path into the data; null if all is correct. */
export type Shape = (value: unknown, path: string) => string | null;

const wrong = (path: string, what: string) => `${path || 'it'} is ${what}`;

/** Whether paths are built while checking. That is the most expensive part, and few files need it. */
let tells = true;
const below = (path: string, key: string): string => {
  if (!tells) return '';
  return path === '' ? key : `${path}.${key}`;
};
const at = (path: string, index: number): string => (tells ? `${path}[${index}]` : '');

/** The first wrong place; null if all is correct. Checks without building paths first. */
export function firstWrong(shape: Shape, value: unknown): string | null {
  tells = false;
  try {
    if (shape(value, '') === null) return null;
  } finally {
    tells = true;
  }
  return shape(value, '');
}

/** The most letters of a text, unless a limit is given. */
const MOST_LETTERS = 1_000_000;

export const text =
  (most = MOST_LETTERS): Shape =>
  (value, path) => {
    if (typeof value !== 'string') return wrong(path, 'no text');
    return value.length > most ? wrong(path, `longer than ${most} letters`) : null;
  };

/* Some shapes are made of others, which are made once and not for each value. */

/** A name that others refer to; much shorter than a text. */
const name = text(300);
export const id: Shape = (value, path) => name(value, path) ?? (value === '' ? wrong(path, 'empty') : null);

export const number =
  (least = -Number.MAX_VALUE, most = Number.MAX_VALUE): Shape =>
  (value, path) =>
    typeof value === 'number' && Number.isFinite(value) && value >= least && value <= most
      ? null
      : wrong(path, 'no number that may stand there');

export const whole = (least = 0, most = Number.MAX_SAFE_INTEGER): Shape => {
  const within = number(least, most);
  return (value, path) =>
    within(value, path) ?? (Number.isInteger(value) ? null : wrong(path, 'no whole number'));
};

export const yesno: Shape = (value, path) =>
  typeof value === 'boolean' ? null : wrong(path, 'neither true nor false');

export const oneOf = (...values: readonly unknown[]): Shape => {
  const known = new Set(values);
  return (value, path) => (known.has(value) ? null : wrong(path, 'none of the words that may stand there'));
};

export const nullable =
  (shape: Shape): Shape =>
  (value, path) =>
    value === null ? null : shape(value, path);

export const optional =
  (shape: Shape): Shape =>
  (value, path) =>
    value === undefined ? null : shape(value, path);

export const list =
  (shape: Shape, most = 1_000_000): Shape =>
  (value, path) => {
    if (!Array.isArray(value)) return wrong(path, 'no list');
    if (value.length > most) return wrong(path, `longer than ${most}`);
    for (let index = 0; index < value.length; index++) {
      const found = shape(value[index], at(path, index));
      if (found) return found;
    }
    return null;
  };

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** An object with these keys. Others are accepted if `more` is set. */
export const object = (
  shapes: Readonly<Record<string, Shape>>,
  more: 'more' | 'nomore' = 'nomore',
): Shape => {
  const entries = Object.entries(shapes);
  return (value, path) => {
    if (!isObject(value)) return wrong(path, 'no object');
    for (const [key, shape] of entries) {
      const found = shape(Object.hasOwn(value, key) ? value[key] : undefined, below(path, key));
      if (found) return found;
    }
    if (more === 'nomore')
      for (const key of Object.keys(value))
        if (!Object.hasOwn(shapes, key)) return wrong(below(path, key), 'not known here');
    return null;
  };
};

/** One of several objects, distinguished by `type`. */
export const union =
  (shapes: Readonly<Record<string, Shape>>): Shape =>
  (value, path) => {
    const type = isObject(value) ? value.type : undefined;
    const shape = typeof type === 'string' && Object.hasOwn(shapes, type) ? shapes[type] : undefined;
    return shape ? shape(value, path) : wrong(`${path}.type`, 'not known here');
  };

/** A path below a root: without empty parts, and none that leads upwards. */
export const path: Shape = (value, own) =>
  longText(value, own) ?? (NO_PATH.test(String(value)) ? wrong(own, 'no path below a root') : null);
const longText = text(5000);
const NO_PATH = /^(|\.\.?)(\/|$)|\/(|\.\.?)(\/|$)/;

/** The same for a folder, where empty means the root. */
export const folder: Shape = (value, own) => (value === '' ? null : path(value, own));
