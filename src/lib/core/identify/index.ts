export { RELEASE_TYPES, entriesInOrder, readReleases } from './reference';
export type {
  LookUp,
  OrderName,
  ReferenceEntry,
  ReferenceOrder,
  ReferenceRelease,
  ReleaseType,
} from './reference';
export { TYPE_OF_KIND, gather, gatherItemWith, toGatherItem, toLineFile } from './gather';
export type { GatherItem, Gathering, GatheringState } from './gather';
export { sumPoints, weighPair } from './evidence';
export type { LineFile, NumberTrust, PairEvidence } from './evidence';
export { NO_DECISIONS, lineUp, pointsByCode } from './line-up';
export type { Decisions, LineUp, Pair } from './line-up';
export { offerLineUps, rankCandidates } from './candidates';
export type { Candidate, Offer, ScoreReason } from './candidates';
export { propose } from './propose';
export type { Doubt, Proposal } from './propose';
export { KIND_OF_TYPE, TAKEN_FIELDS, factsFor, matchOf } from './take';
export { likeness } from './likeness';
export { compareNames } from './name-facts';
