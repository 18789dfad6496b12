import { decodeHTML } from 'entities';
import { parseOpml, parseRssFeed } from 'feedsmith';
import type { Episode, FeedFacts, FeedWarning } from './feed';

/** Why a feed could not be read at all. */
export class FeedError extends Error {
  override readonly name = 'FeedError';
  constructor(readonly code: 'notXml' | 'noFeed' | 'noEpisodes') {
    super(code);
  }
}

type Node = Readonly<Record<string, unknown>>;

/** Letters after the end of a feed that are searched for more. */
const MOST_BEHIND = 10_000;
/** Episodes that are kept of one feed. */
const MOST_EPISODES = 5000;

/**
 * Reads a feed of RSS 2.0 with the open podcast namespace; elements of other namespaces count by their local names. A
 * damaged feed is read as far as possible, with warnings. Declared entities are never expanded.
 * @param cutOff the text ends early because the feed is too large
 * @throws {FeedError} if nothing can be read
 */
export function readFeed(text: string, cutOff = false): FeedFacts {
  const warnings: FeedWarning[] = cutOff ? [{ code: 'cutOff', count: 1 }] : [];
  const { plain, declared } = withoutDoctype(text);
  if (declared > 0) warnings.push({ code: 'entities', count: declared });
  if (!/<[a-z]/i.test(plain)) throw new FeedError('notXml');
  if (!/<(rss|channel)[\s>]/i.test(plain)) throw new FeedError('noFeed');
  const whole = cutOff ? null : parseWhole(plain);
  if (whole) return toFacts(whole, warnings);
  return toFacts(
    salvage(plain, warnings),
    cutOff ? warnings : [{ code: 'malformed', count: 1 }, ...warnings],
  );
}

/** The text without its document type, whose entities may grow without end when expanded. */
function withoutDoctype(text: string): { plain: string; declared: number } {
  const start = text.search(/<!DOCTYPE/i);
  if (start < 0) return { plain: text, declared: 0 };
  const open = text.indexOf('[', start);
  const plainEnd = text.indexOf('>', start);
  const end = open >= 0 && open < plainEnd ? text.indexOf(']>', open) + 1 : plainEnd;
  if (end <= 0) return { plain: text.slice(0, start), declared: 1 };
  const declared = (text.slice(start, end).match(/<!ENTITY/gi) ?? []).length;
  return { plain: text.slice(0, start) + text.slice(end + 1), declared };
}

function parseWhole(text: string): Node | null {
  // A parser that forgives would take a torn feed for a whole one.
  if (!/<\/rss>\s*$/i.test(text.slice(-MOST_BEHIND))) return null;
  // Items that are not closed lie in each other as deep as there are any.
  if (count(text, /<item[\s>]/gi) !== count(text, /<\/item>/gi)) return null;
  try {
    return parseRssFeed(text, { maxItems: MOST_EPISODES });
  } catch {
    return null;
  }
}

function count(text: string, what: RegExp): number {
  let found = 0;
  while (what.exec(text)) found++;
  return found;
}

/** The text of each item, in one pass: of several that open before one closes, the last is the one that does. */
function* itemsIn(text: string): Generator<string> {
  const opens = /<item[\s>]/gi;
  const closes = /<\/item>/gi;
  let open = opens.exec(text);
  for (let close = closes.exec(text); close && open; close = closes.exec(text)) {
    let start: number | null = null;
    while (open && open.index < close.index) {
      start = open.index;
      open = opens.exec(text);
    }
    if (start !== null) yield text.slice(start, closes.lastIndex);
  }
}

/** Each episode is parsed on its own, so that a broken one does not affect the others. */
function salvage(text: string, warnings: FeedWarning[]): Node {
  const root = /<rss[^>]*>/i.exec(text)?.[0] ?? '<rss version="2.0">';
  const first = text.search(/<item[\s>]/i);
  const head = text.slice(text.search(/<channel[\s>]/i), first < 0 ? text.length : first);
  const channel = tryParse(`${root}${head}</channel></rss>`) ?? {};
  const items: unknown[] = [];
  let broken = 0;
  for (const item of itemsIn(text)) {
    if (items.length >= MOST_EPISODES) break;
    const read = tryParse(`${root}<channel><title>x</title>${item}</channel></rss>`);
    const own = (read?.items as unknown[] | undefined)?.[0];
    if (own) items.push(own);
    else broken++;
  }
  if (broken > 0) warnings.push({ code: 'brokenEpisodes', count: broken });
  return { ...channel, items };
}

function tryParse(text: string): Node | null {
  try {
    return parseRssFeed(text);
  } catch {
    return null;
  }
}

/** A value by its local name: in the podcast namespace first, then in any other, then plain. */
function local(node: Node, name: string): unknown {
  const spaces = Object.entries(node).filter(
    ([, value]) => typeof value === 'object' && value !== null && !Array.isArray(value),
  ) as [string, Node][];
  const own = spaces.find(([key]) => key === 'podcast')?.[1][name];
  if (own !== undefined) return own;
  for (const [key, space] of spaces) if (key !== 'podcast' && space[name] !== undefined) return space[name];
  return node[name];
}

function textOf(value: unknown): string | null {
  if (typeof value === 'string') return value.trim() || null;
  if (typeof value === 'number') return String(value);
  if (Array.isArray(value)) return textOf(value[0]);
  if (typeof value !== 'object' || value === null) return null;
  const { value: inner, url, name, display } = value as Record<string, unknown>;
  return textOf(inner ?? url ?? name ?? display ?? null);
}

function numberOf(value: unknown): number | null {
  const inner = typeof value === 'object' && value !== null ? (value as { number?: unknown }).number : value;
  const number = Number(inner);
  return Number.isInteger(number) && number >= 0 && number < 10_000 && inner !== null && inner !== ''
    ? number
    : null;
}

function toFacts(channel: Node, warnings: readonly FeedWarning[]): FeedFacts {
  const items = (channel.items ?? []) as readonly Node[];
  const episodes = items.flatMap((item) => toEpisode(item) ?? []);
  const title = textOf(channel.title);
  if (title === null && episodes.length === 0) throw new FeedError('noEpisodes');
  return {
    title: title ?? 'a feed without a title',
    maker:
      textOf(local(channel, 'author')) ??
      textOf(local(channel, 'creators') ?? local(channel, 'creator')) ??
      textOf(channel.managingEditor),
    description: plainWords(textOf(channel.description) ?? textOf(local(channel, 'summary'))),
    pictureUrl: textOf(channel.image) ?? textOf(local(channel, 'image')),
    episodes: unlike(episodes),
    warnings,
  };
}

/** A guid identifies one episode. */
function unlike(episodes: readonly Episode[]): readonly Episode[] {
  return [...new Map(episodes.map((episode) => [episode.guid, episode])).values()];
}

function toEpisode(item: Node): Episode | null {
  const enclosure = (item.enclosures as readonly Node[] | undefined)?.[0];
  const url = textOf(enclosure?.url);
  if (!enclosure || url === null) return null;
  const date = new Date(textOf(item.pubDate) ?? '');
  const people = local(item, 'persons');
  const bytes = Number(enclosure.length);
  return {
    guid: textOf(item.guid) ?? url,
    title: textOf(item.title) ?? 'without a title',
    season: numberOf(local(item, 'season')),
    number: numberOf(local(item, 'episode')),
    date: Number.isNaN(date.getTime()) ? null : date.toISOString().slice(0, 10),
    description: plainWords(textOf(item.description) ?? textOf(local(item, 'summary'))),
    people: Array.isArray(people) ? people.flatMap((person) => textOf(person) ?? []) : [],
    url,
    bytes: Number.isFinite(bytes) && bytes > 0 ? bytes : null,
    extension: extensionFor(url, textOf(enclosure.type)),
    chaptersUrl: textOf(local(item, 'chapters')),
    transcriptUrl: textOf((local(item, 'transcripts') as readonly unknown[] | undefined)?.[0]),
    pictureUrl: textOf(local(item, 'image')),
  };
}

const EXTENSIONS: Readonly<Record<string, string>> = {
  'audio/mpeg': 'mp3',
  'audio/mp3': 'mp3',
  'audio/mp4': 'm4a',
  'audio/x-m4a': 'm4a',
  'audio/ogg': 'ogg',
  'audio/opus': 'opus',
  'audio/flac': 'flac',
  'video/mp4': 'mp4',
};

function extensionFor(url: string, type: string | null): string {
  const known = EXTENSIONS[type?.toLowerCase() ?? ''];
  return known ?? /\.([a-z0-9]{2,4})(?:[?#]|$)/i.exec(url)?.[1]?.toLowerCase() ?? 'mp3';
}

/** Letters that no text of a description has a use for. */
// eslint-disable-next-line no-control-regex
const CONTROLS = /[\u0000-\u0008\u000b-\u001f]/g;

/** Markup without what is no text of it. One that is not closed stays. */
function withoutScripts(html: string): string {
  let out = '';
  let at = 0;
  const opens = /<(script|style)[\s>]/gi;
  for (let open = opens.exec(html); open; open = opens.exec(html)) {
    const closes = new RegExp(`</${open[1]}>`, 'gi');
    closes.lastIndex = open.index;
    if (!closes.exec(html)) break;
    out += html.slice(at, open.index);
    at = opens.lastIndex = closes.lastIndex;
  }
  return out + html.slice(at);
}

/** Markup as plain text: blocks become lines. */
export function plainWords(html: string | null): string | null {
  if (html === null) return null;
  const words = withoutScripts(html)
    .replace(/<\s*li[^<>]*>/gi, '\n- ')
    .replace(/<\s*(br|\/p|\/div|\/ul|\/ol|\/h\d)[^<>]*>/gi, '\n')
    // A tag never extends over the next one, so each letter is looked at once, however many are not closed.
    .replace(/<[^<>]*>/g, '');
  const text = decodeHTML(words)
    .replace(CONTROLS, '')
    .replace(/\u00a0/g, ' ')
    .replace(/[ \t]+/g, ' ')
    .replace(/ ?\n ?/g, '\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim();
  return text === '' ? null : text;
}

interface Outline {
  readonly text?: string;
  readonly xmlUrl?: string;
  readonly outlines?: readonly Outline[];
}

/**
 * Addresses of feeds in an OPML file, folders opened.
 * @throws {FeedError} when it is none
 */
export function readSubscriptions(
  text: string,
): readonly { readonly title: string; readonly address: string }[] {
  const { plain } = withoutDoctype(text);
  let body: { outlines?: readonly Outline[] } | undefined;
  try {
    body = parseOpml(plain).body;
  } catch {
    throw new FeedError('noFeed');
  }
  const walk = (outlines: readonly Outline[] | undefined): { title: string; address: string }[] =>
    (outlines ?? []).flatMap(({ text: title, xmlUrl, outlines: inner }) => [
      ...(xmlUrl ? [{ title: title ?? xmlUrl, address: xmlUrl }] : []),
      ...walk(inner),
    ]);
  return walk(body?.outlines);
}
