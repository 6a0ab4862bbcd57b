import { XMLBuilder } from 'fast-xml-parser';
import { z } from 'zod';

/** What a photographer says of a picture (IPTC Photo Metadata Standard 2023.2: title, description, keywords, creator, copyright notice). */
export const Texts = z.strictObject({
  title: z.string().max(2000).default(''),
  caption: z.string().max(20_000).default(''),
  keywords: z.array(z.string().max(200)).max(500).default([]),
  creator: z.string().max(500).default(''),
  rights: z.string().max(2000).default(''),
});
export type Texts = z.infer<typeof Texts>;

export const NO_TEXTS: Texts = { title: '', caption: '', keywords: [], creator: '', rights: '' };

export const hasTexts = ({ title, caption, keywords, creator, rights }: Texts): boolean =>
  [title, caption, creator, rights].some((text) => text.trim() !== '') || keywords.length > 0;

/** Keywords as they are typed, commas between them, each once. */
export const keywordsOf = (typed: string): string[] => [
  ...new Set(
    typed
      .split(/[,;\n]/)
      .map((word) => word.trim())
      .filter(Boolean),
  ),
];

/** Signs that XML 1.0 has no place for. */
const UNFIT = /[^\t\n\r\P{Cc}]|[\ufffe\uffff]/gu;
const clean = (text: string): string => text.replace(UNFIT, '').trim();

const inDefault = (text: string) => ({ 'rdf:Alt': { 'rdf:li': { '@xml:lang': 'x-default', '#': clean(text) } } });

/** The texts as an XMP packet (ISO 16684-1:2019, section 7; the properties of Dublin Core in its section 8.3).
 * @returns UTF-8. */
export function writeXmp({ title, caption, keywords, creator, rights }: Texts): Uint8Array<ArrayBuffer> {
  const builder = new XMLBuilder({
    ignoreAttributes: false,
    attributeNamePrefix: '@',
    textNodeName: '#',
    suppressEmptyNode: true,
  });
  const description = {
    '@rdf:about': '',
    '@xmlns:dc': 'http://purl.org/dc/elements/1.1/',
    ...(clean(title) && { 'dc:title': inDefault(title) }),
    ...(clean(caption) && { 'dc:description': inDefault(caption) }),
    ...(keywords.length > 0 && { 'dc:subject': { 'rdf:Bag': { 'rdf:li': keywords.map(clean).filter(Boolean) } } }),
    ...(clean(creator) && { 'dc:creator': { 'rdf:Seq': { 'rdf:li': clean(creator) } } }),
    ...(clean(rights) && { 'dc:rights': inDefault(rights) }),
  };
  const rdf = { '@xmlns:rdf': 'http://www.w3.org/1999/02/22-rdf-syntax-ns#', 'rdf:Description': description };
  const body = builder.build({ 'x:xmpmeta': { '@xmlns:x': 'adobe:ns:meta/', 'rdf:RDF': rdf } });
  const packet = `<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>${body}<?xpacket end="w"?>`;
  return new TextEncoder().encode(packet);
}
