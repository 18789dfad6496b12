/** What is looked for in texts, and what it becomes. */
export interface Replacing {
  readonly find: string;
  readonly by: string;
  /** `Folk` is not `folk`. */
  readonly mindsCase: boolean;
  /** Not inside longer words. */
  readonly wholeWords: boolean;
}

const LETTER = String.raw`[\p{L}\p{M}\p{N}]`;

/** Replaces all of it in a text; the text itself where nothing is found. */
export function replacer({ find, by, mindsCase, wholeWords }: Replacing): (text: string) => string {
  if (find === '') return (text) => text;
  const plain = find.normalize('NFC').replace(/[.*+?^${}()|[\]\\]/g, String.raw`\$&`);
  const wanted = wholeWords ? `(?<!${LETTER})${plain}(?!${LETTER})` : plain;
  const looked = new RegExp(wanted, mindsCase ? 'gu' : 'giu');
  // As a function: a dollar in the new text is a dollar.
  return (text) => text.normalize('NFC').replace(looked, () => by);
}
