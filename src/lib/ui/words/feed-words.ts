import type { FeedWarning } from '$lib/core/feeds';
import { counted } from './amounts';

/** What was wrong with a feed that could still be used. */
export function feedWarningWords({ code, count }: FeedWarning): string {
  switch (code) {
    case 'entities':
      return `It declares ${counted(count, 'entity', 'entities')} of its own. They are not expanded, because they could grow without limit.`;
    case 'malformed':
      return 'It is not well-formed XML; what could be read is shown. Tell its publisher.';
    case 'brokenEpisodes':
      return `${counted(count, 'episode')} could not be read and ${count === 1 ? 'is' : 'are'} left out.`;
    case 'cutOff':
      return 'It is larger than 8 MB and was cut off there; its newest episodes are shown.';
  }
}
