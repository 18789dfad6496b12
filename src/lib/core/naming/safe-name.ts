import { toAlphabet, type Alphabet } from './alphabet';
import { ASCII, foldCase } from './fold-case';
import { lettersOf } from './letters';

/** What a target's file system and its player accept in names. */
export interface NameRules {
  /** Letters that names must not contain. Control characters are never allowed. */
  readonly unsafe: string;
  /** Replacements of single unsafe letters; others become `fallback`. */
  readonly replacements: Readonly<Record<string, string>>;
  readonly fallback: string;
  readonly unicode: 'NFC' | 'NFD';
  /** Letters of others are written as they are usually spelled in it, else as `fallback`. */
  readonly alphabet: Alphabet;
  /** The only letters allowed in names; null for all that are not unsafe. */
  readonly allowed: string | null;
  /** Names such as CON and COM1 are reserved, whatever follows their first dot. */
  readonly deviceNames: boolean;
  readonly caseSensitive: boolean;
  /** Replaces leading dots, if the player ignores such names; null keeps them. */
  readonly leadingDot: string | null;
  /** Unit in which the file system counts. */
  readonly unit: 'bytes' | 'utf16';
  readonly maxName: number;
  readonly maxPath: number;
  readonly numberWidth: number;
}

/** Blanks before the first dot do not make another name of it. */
const DEVICE =
  /^(con|prn|aux|nul|conin\$|conout\$|com[0-9\u00b9\u00b2\u00b3]|lpt[0-9\u00b9\u00b2\u00b3]) *(\.|$)/i;
/** A letter that can be seen: no control, format or blank, no mark without one, no filler of Hangul, no empty Braille cell. */
const VISIBLE = /[^\p{C}\p{Z}\p{M}\u115f\u1160\u2800\u3164\uffa0]/u;
const encoder = new TextEncoder();

/** Nearly all values have only these letters and need no work. */
const PLAIN = /^[A-Za-z0-9',.()&+!-]+( [A-Za-z0-9',.()&+!-]+)*$/;

/** A value without the letters that the target does not take; `/` never passes. Blanks are folded. */
export function safeValue(text: string, rules: NameRules): string {
  const { allowed } = rules;
  if (PLAIN.test(text) && allowed === null && !/[\w ',.()&+!-]/.test(rules.unsafe)) return text;
  const isTaken = (letter: string) => !rules.unsafe.includes(letter) && (allowed?.includes(letter) ?? true);
  let out = '';
  const spelled = toAlphabet(text.toWellFormed(), rules.alphabet, rules.fallback);
  for (const letter of spelled.normalize(rules.unicode)) {
    // eslint-disable-next-line no-control-regex
    if (/[\s\u0000-\u001f\u007f\u0080-\u009f\u2028\u2029]/.test(letter)) out += blank(rules);
    // Marks that change the writing direction can make a name look like another.
    else if (/[\u200e\u200f\u202a-\u202e\u2066-\u2069\ufeff]/.test(letter)) continue;
    else if (letter === '/' || letter === '\\' || !isTaken(letter))
      out += rules.replacements[letter] ?? rules.fallback;
    else out += letter;
  }
  // A mark may follow another letter now than before.
  return out.normalize(rules.unicode).replace(/ +/g, ' ').trim();
}

const blank = ({ allowed, replacements, fallback }: NameRules): string =>
  allowed?.includes(' ') === false ? (replacements[' '] ?? fallback) : ' ';

/** A whole name (one level of a path, without extension) as the target accepts it. Never empty. */
export function safeName(name: string, rules: NameRules): string {
  const trimmed = trimEnds(rules.leadingDot === null ? name : name.replace(/^ *\.[. ]*/, rules.leadingDot));
  if (!VISIBLE.test(trimmed)) return rules.fallback;
  return rules.deviceNames && DEVICE.test(trimmed)
    ? trimmed.replace(/^[^.]+/, `$&${rules.fallback}`)
    : trimmed;
}

const trimEnds = (name: string) =>
  name
    .trim()
    .replace(/[. ]+$/, '')
    .trimStart();

/** Length of a text in the unit that the file system counts. */
export function lengthIn(text: string, unit: NameRules['unit']): number {
  return unit === 'bytes' && !ASCII.test(text) ? encoder.encode(text).length : text.length;
}

/**
 * A safe name of at most `limit` units, cut between whole letters with their accents. Never empty: if not even the
 * first letter fits, the fallback of the rules is used.
 */
export function shorten(name: string, limit: number, rules: NameRules): string {
  let out = '';
  let used = 0;
  for (const letter of lettersOf(name)) {
    used += lengthIn(letter, rules.unit);
    if (used > limit) break;
    out += letter;
  }
  const safe = safeName(out, rules);
  // Cutting can produce a reserved device name, which is then extended by the fallback.
  return lengthIn(safe, rules.unit) <= limit ? safe : rules.fallback;
}

/** Paths with equal keys are the same file for the target. */
export function pathKey(path: string, rules: Pick<NameRules, 'caseSensitive' | 'unicode'>): string {
  if (ASCII.test(path)) return rules.caseSensitive ? path : path.toLowerCase();
  const normal = path.normalize(rules.unicode);
  // Folding can leave marks in another order than before.
  return rules.caseSensitive ? normal : foldCase(normal.normalize('NFD')).normalize('NFC');
}
