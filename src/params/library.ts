import type { ParamMatcher } from '@sveltejs/kit';

/** Libraries that exist: the curator's own, and the demo's apart from it. */
export const match: ParamMatcher = (name) => name === 'home' || name === 'demo';
