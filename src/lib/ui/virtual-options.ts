import {
  elementScroll,
  observeElementOffset,
  observeElementRect,
  type VirtualizerOptions,
} from '@tanstack/virtual-core';

/** How a list within an element that scrolls is drawn: what differs from list to list is said by each. */
export const inElement = (
  element: () => HTMLElement | undefined,
  own: Pick<VirtualizerOptions<HTMLElement, HTMLElement>, 'count' | 'estimateSize' | 'overscan' | 'onChange'>,
): VirtualizerOptions<HTMLElement, HTMLElement> => ({
  getScrollElement: () => element() ?? null,
  initialRect: { width: 0, height: 400 },
  scrollToFn: elementScroll,
  observeElementRect,
  observeElementOffset,
  ...own,
});
