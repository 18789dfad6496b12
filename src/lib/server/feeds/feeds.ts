import { escapeUTF8 } from 'entities';
import { rangeResponse, sizeOf } from '../files';
import { drawCover } from '../reference';

interface Episode {
  readonly number: number;
  readonly title: string;
  readonly date: string;
  readonly about: string;
  readonly person: string;
  readonly chapters: readonly (readonly [number, string])[];
}

interface Show {
  readonly id: string;
  readonly title: string;
  readonly maker: string;
  readonly about: string;
  readonly season: number | null;
  readonly episodes: readonly Episode[];
}

const SHOWS: readonly Show[] = [
  {
    id: 'slack-water',
    title: 'Slack Water',
    maker: 'Skarra Harbour Radio',
    about: 'Talk from the hour when nothing moves.',
    season: 3,
    episodes: [
      {
        number: 34,
        title: 'The Price of Coal in Winter',
        date: 'Fri, 07 Jun 2024 06:30:00 GMT',
        about: '<p>Three who carried it tell what it cost.</p><ul><li>Ledger of 1951</li></ul>',
        person: 'Brita Dahl',
        chapters: [
          [0, 'Sacks'],
          [15, 'The long stair'],
        ],
      },
      {
        number: 33,
        title: 'The Second Drawer',
        date: 'Fri, 31 May 2024 06:30:00 GMT',
        about: 'What the harbour master keeps, and why nobody asks.',
        person: 'Brita Dahl',
        chapters: [],
      },
      {
        number: 32,
        title: 'Every Ship but One',
        date: 'Fri, 24 May 2024 06:30:00 GMT',
        about: 'A keeper who painted all that passed.',
        person: 'Olav Innes',
        chapters: [
          [0, 'The paint box'],
          [12, 'The one that did not pass'],
        ],
      },
    ],
  },
  {
    id: 'tide-tables',
    title: 'Tide Tables',
    maker: 'Skarra Harbour Radio',
    about: 'High water and low, read slowly.',
    season: null,
    episodes: [2, 1].map((number) => ({
      number,
      title: `Tides, number ${number}`,
      date: `Mon, 0${number + 2} Jun 2024 05:00:00 GMT`,
      about: '',
      person: 'Olav Innes',
      chapters: [],
    })),
  },
];

/** Prefix of the open namespace for podcasts. */
const OPEN = 'podcast';

const mediaOf = (show: string, number: number) => `feeds/${show}/${number}.mp3`;

function item(show: Show, episode: Episode): string {
  const base = `/feeds/${show.id}`;
  return [
    '<item>',
    `<title>${escapeUTF8(episode.title)}</title>`,
    `<guid isPermaLink="false">${show.id}-${episode.number}</guid>`,
    `<pubDate>${episode.date}</pubDate>`,
    `<description><![CDATA[${episode.about}]]></description>`,
    `<enclosure url="${base}/media/${episode.number}" length="${sizeOf(mediaOf(show.id, episode.number))}" type="audio/mpeg"/>`,
    ...(show.season === null ? [] : [`<podcast:season>${show.season}</podcast:season>`]),
    `<podcast:episode>${episode.number}</podcast:episode>`,
    `<podcast:person role="host">${escapeUTF8(episode.person)}</podcast:person>`,
    `<podcast:transcript url="${base}/transcript/${episode.number}" type="text/vtt"/>`,
    ...(episode.chapters.length > 0
      ? [`<${OPEN}:chapters url="${base}/chapters/${episode.number}" type="application/json+chapters"/>`]
      : []),
    '</item>',
  ].join('\n');
}

function rss(show: Show): string {
  return `<?xml version="1.0" encoding="UTF-8"?>
<rss version="2.0" xmlns:podcast="https://podcastindex.org/namespace/1.0">
<channel>
<title>${escapeUTF8(show.title)}</title>
<link>/feeds/${show.id}</link>
<description>${escapeUTF8(show.about)}</description>
<managingEditor>${escapeUTF8(show.maker)}</managingEditor>
<image><url>/feeds/${show.id}/picture</url><title>${escapeUTF8(show.title)}</title><link>/feeds/${show.id}</link></image>
${show.episodes.map((episode) => item(show, episode)).join('\n')}
</channel>
</rss>`;
}

/** A feed whose end is missing, and one of whose episodes is broken. */
function torn(): string {
  const [show] = SHOWS as [Show];
  const whole = rss({ ...show, id: 'slack-water', title: 'Torn Nets' });
  return whole.replace('<title>The Second Drawer</title>', '<title>The Second <b>Drawer').slice(0, -12);
}

const ENTITIES = `<?xml version="1.0"?>
<!DOCTYPE rss [<!ENTITY a "gull"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;&a;&a;"><!ENTITY c "&b;&b;&b;&b;&b;&b;&b;&b;&b;&b;"><!ENTITY d "&c;&c;&c;&c;&c;&c;&c;&c;&c;&c;">]>
<rss version="2.0"><channel><title>Gulls &d;</title><item><title>&d;</title><guid>g</guid><enclosure url="/feeds/tide-tables/media/1" length="1" type="audio/mpeg"/></item></channel></rss>`;

/** Bytes of the feed that is far too large. */
const HUGE_BYTES = 50_000_000;

function huge(): ReadableStream<Uint8Array> {
  const [, show] = SHOWS as [Show, Show];
  const encoder = new TextEncoder();
  const head = rss({ ...show, title: 'Everything Since 1900' }).replace(/<\/channel>[\s\S]*/, '');
  const filler = encoder.encode(
    `<item><title>old ${'x'.repeat(900)}</title><guid>f</guid></item>\n`.repeat(200),
  );
  let sent = 0;
  return new ReadableStream({
    start: (controller) => controller.enqueue(encoder.encode(head)),
    pull(controller) {
      controller.enqueue(filler);
      sent += filler.length;
      if (sent >= HUGE_BYTES) {
        controller.enqueue(encoder.encode('</channel></rss>'));
        controller.close();
      }
    },
  });
}

/** A feed as its host sends it, or null where there is none. */
export function sendFeed(id: string): Response | null {
  const headers = { 'content-type': 'application/rss+xml; charset=utf-8' };
  if (id === 'torn') return new Response(torn(), { headers });
  if (id === 'entities') return new Response(ENTITIES, { headers });
  if (id === 'huge') return new Response(huge(), { headers });
  const show = SHOWS.find((one) => one.id === id);
  return show ? new Response(rss(show), { headers }) : null;
}

/** What belongs to an episode: its sound, chapters (JSON chapters 1.2), what a chapter shows, or transcript. */
export function sendPart(id: string, part: string, number: number, range: string | null): Response | null {
  const episode = SHOWS.find((one) => one.id === id)?.episodes.find((one) => one.number === number);
  if (!episode) return null;
  if (part === 'media') return rangeResponse(mediaOf(id, number), range, 'audio/mpeg');
  if (part === 'chapters' && episode.chapters.length > 0)
    return Response.json({
      version: '1.2.0',
      chapters: episode.chapters.map(([startTime, title], index) => ({
        startTime,
        title,
        // The first shows what the episode shows.
        ...(index > 0 && { img: `/feeds/${id}/plate/${number}` }),
      })),
    });
  if (part === 'plate' && episode.chapters.length > 0)
    return new Response(new Uint8Array(drawCover(episode.title, 300)), {
      headers: { 'content-type': 'image/png' },
    });
  if (part === 'transcript')
    return new Response(`WEBVTT\n\n00:00.000 --> 00:06.000\n${episode.title}\n`, {
      headers: { 'content-type': 'text/vtt' },
    });
  return null;
}

export const findShowTitle = (id: string): string | null => SHOWS.find((one) => one.id === id)?.title ?? null;

/** The shows of this host as a list of subscriptions. */
export function opml(): string {
  const outlines = SHOWS.map(
    ({ id, title }) => `<outline type="rss" text="${escapeUTF8(title)}" xmlUrl="/feeds/${id}"/>`,
  );
  return `<?xml version="1.0" encoding="UTF-8"?>
<opml version="2.0"><head><title>Skarra Harbour Radio</title></head><body>${outlines.join('')}</body></opml>`;
}
