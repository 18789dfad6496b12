export { findShowTitle, opml, sendFeed, sendPart } from './feeds';
