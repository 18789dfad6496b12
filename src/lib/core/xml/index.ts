/** Letters that XML 1.0 does not allow even as references (section 2.2). */
const NO_XML = new RegExp(
  '[\\u0000-\\u0008\\u000b\\u000c\\u000e-\\u001f\\ufffe\\uffff]' +
    '|[\\ud800-\\udbff](?![\\udc00-\\udfff])|(?<![\\ud800-\\udbff])[\\udc00-\\udfff]',
  'g',
);

/** A text without the letters that XML cannot hold. */
export const plainXml = (text: string): string => text.replace(NO_XML, '');
