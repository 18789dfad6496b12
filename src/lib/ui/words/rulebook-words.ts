import { codecName, requireField } from '$lib/core/items';
import { KIND_FACTS, type Kind } from '$lib/core/kinds';
import type { Place, Take } from '$lib/core/rulebooks';
import { bytes, clock } from './amounts';

const many = (kinds: readonly Kind[]) => kinds.map((kind) => KIND_FACTS[kind].many).join(', ');

const LIMITS: Readonly<Record<keyof Take['most'], (most: number) => string>> = {
  bytes: (most) => `up to ${bytes(most)}`,
  seconds: (most) => `up to ${clock(most)}`,
  sampleRate: (most) => `up to ${most / 1000} kHz`,
  channels: (most) => `up to ${most} channels`,
  width: (most) => `up to ${most} pixels wide`,
  height: (most) => `up to ${most} pixels high`,
};

/** What a player plays, as a sentence. */
export function takeWords(
  { kinds, formats, codecs, most }: Take,
  names: Readonly<Record<Take['formats'][number], string>>,
): string {
  const limits = (Object.keys(LIMITS) as (keyof Take['most'])[]).flatMap((name) => {
    const limit = most[name];
    return limit === null ? [] : [LIMITS[name](limit)];
  });
  const words = [
    `${many(kinds)} as ${formats.map((format) => names[format]).join(', ')}`,
    ...(codecs ? [`with ${codecs.map(codecName).join(' or ')}`] : []),
    ...limits,
  ];
  return words.join(', ');
}

/** Where a player looks for what, and how it reads it. */
export function placeWords({ kinds, folder, pattern, reads, asks }: Place) {
  const from = { tags: 'tags', sidecar: 'sidecars', path: 'names' }[reads.from];
  const needs = asks.map(({ field }) => requireField(field).label).join(', ');
  return {
    what: many(kinds),
    path: [folder, pattern].filter(Boolean).join('/'),
    how: `read by their ${from}${needs === '' ? '' : `; asks for ${needs}`}`,
  };
}
