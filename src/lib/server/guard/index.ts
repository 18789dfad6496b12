export { guarded, isStandIn, readJson, refusalOf, refuse } from './guard';
