export { SHOW_IDS, findShowTitle, opml, sendFeed, sendPart } from './feeds';
