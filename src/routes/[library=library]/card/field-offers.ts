import { KIND_FACTS, genresOf, type Kind } from '$lib/core/kinds';
import { fieldText, requireField, type FieldName } from '$lib/core/items';
import { QUERY_NAMES } from '$lib/core/query';
import type { KnownValues } from '$lib/state/known-values.svelte';

/** A value that may be meant while a field is typed. */
export interface FieldOffer {
  readonly text: string;
  /** How many items have it, or where it comes from. */
  readonly means: string;
}

const MOST = 7;
const PARTING = /;\s*/;

const languageNames = new Intl.DisplayNames('en', { type: 'language', fallback: 'none' });
/** Languages that come first where nothing is typed: those of the country, then of its neighbours. */
const LANGUAGES =
  'en gd ga cy sco fr de nl da no sv fi is es pt it pl cs sk hu ro bg el tr ru uk sr hr sl et lv lt he ar fa hi bn ta ur zh ja ko vi th id ms sw am eu ca gl br oc la eo mul zxx'.split(
    ' ',
  );
const languages = LANGUAGES.map((tag): FieldOffer => ({ text: tag, means: languageNames.of(tag) ?? '' }));

/** Genres that are usual for these kinds, and those of ID3 for music. */
const usualGenres = (kinds: ReadonlySet<Kind | null>): readonly FieldOffer[] =>
  [...kinds].flatMap((kind) =>
    genresOf(kind).map((text): FieldOffer => ({
      text,
      means: kind === null ? 'in the ID3 list' : `usual for ${KIND_FACTS[kind].many}`,
    })),
  );

/** The last of several values is the one that is being typed. */
const beingTyped = (field: FieldName, typed: string): string =>
  requireField(field).type === 'texts' ? (typed.split(PARTING).at(-1) ?? '') : typed;

/** What may be meant: values of the library with their counts, then those of standards. */
export function offersFor(
  field: FieldName,
  typed: string,
  known: KnownValues,
  kinds: ReadonlySet<Kind | null>,
): readonly FieldOffer[] {
  const { type, label } = requireField(field);
  const part = beingTyped(field, typed).trim();
  const is = (text: string) => text.toLowerCase().includes(part.toLowerCase());
  if (type === 'language') return languages.filter(({ text, means }) => is(text) || is(means)).slice(0, MOST);
  if (!(type === 'text' || type === 'texts') || field === 'title') return [];
  const name = QUERY_NAMES.find((one) => one.name === label);
  const own = name ? known.like(name, part, MOST) : [];
  const offers = own.map(([text, count]): FieldOffer => ({ text, means: count.toLocaleString('en') }));
  if (field !== 'genre') return offers;
  const has = new Set(offers.map(({ text }) => text.toLowerCase()));
  const usual = usualGenres(kinds).filter(({ text }) => is(text) && !has.has(text.toLowerCase()));
  return [...offers, ...usual].slice(0, MOST);
}

/** What was typed with an offer taken, in place of what it completes. */
export function withOffer(field: FieldName, typed: string, { text }: FieldOffer): string {
  if (requireField(field).type !== 'texts') return text;
  const before = typed.split(PARTING).slice(0, -1).filter(Boolean);
  return fieldText([...before, text]);
}
