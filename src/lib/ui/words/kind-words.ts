import { KIND_FACTS, type Kind } from '$lib/core/kinds';
import { counted } from './amounts';

/** `1 song`, `2 songs`, `3 open`. */
export const countedKind = (count: number, kind: Kind | null): string =>
  kind ? counted(count, KIND_FACTS[kind].one, KIND_FACTS[kind].many) : `${count.toLocaleString('en')} open`;
