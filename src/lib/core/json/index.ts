/** The deepest nesting of lists and objects in JSON from outside. Ours are only a few levels deep. */
const DEEPEST = 64;
const [QUOTE, BACKSLASH, LIST, OBJECT] = [0x22, 0x5c, 0x5b, 0x7b];
/** Between the letter that opens a list or an object and the one that closes it. */
const TO_CLOSE = 2;

/**
 * Parses JSON from outside. A parser needs many times the memory of a text that opens lists without end, so such a text
 * is refused before it is parsed.
 * @throws {SyntaxError}
 */
export function parseJson(text: string, reviver?: (key: string, value: unknown) => unknown): unknown {
  if (isDeeper(text, DEEPEST)) throw new SyntaxError('lists in lists without end');
  return JSON.parse(text, reviver) as unknown;
}

function isDeeper(text: string, most: number): boolean {
  let depth = 0;
  let isText = false;
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at);
    if (isText) {
      if (code === BACKSLASH) at++;
      else if (code === QUOTE) isText = false;
    } else if (code === QUOTE) isText = true;
    else if (code === LIST || code === OBJECT) {
      if (++depth > most) return true;
    } else if (code === LIST + TO_CLOSE || code === OBJECT + TO_CLOSE) depth--;
  }
  return false;
}
