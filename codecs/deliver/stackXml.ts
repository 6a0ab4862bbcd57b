import { XMLBuilder } from 'fast-xml-parser';

/** A layer, or a stack of them, as OpenRaster's `stack.xml` names it (freedesktop.org, OpenRaster 0.0.6). */
export type StackEntry = {
  name: string;
  opacity: number;
  visible: boolean;
  mode: string;
} & ({ src: string } | { isolated: boolean; entries: readonly StackEntry[] });

const ATTRIBUTE = '@';

const builder = new XMLBuilder({
  ignoreAttributes: false,
  attributeNamePrefix: ATTRIBUTE,
  suppressEmptyNode: true,
  suppressBooleanAttributes: false,
  preserveOrder: true,
  format: true,
});

/** The document that says how layers lie on each other.
 * @param entries - From below upwards; the document has the uppermost first. */
export function writeStackXml(size: { width: number; height: number }, entries: readonly StackEntry[]): string {
  const attributes = (values: Record<string, string>) =>
    Object.fromEntries(Object.entries(values).map(([name, value]) => [`${ATTRIBUTE}${name}`, value]));
  const shared = ({ name, opacity, visible, mode }: StackEntry) => ({
    name,
    opacity: String(Number(opacity.toFixed(6))),
    visibility: visible ? 'visible' : 'hidden',
    'composite-op': mode,
  });
  const nodeOf = (entry: StackEntry): object =>
    'src' in entry
      ? { layer: [], ':@': attributes({ ...shared(entry), src: entry.src, x: '0', y: '0' }) }
      : {
          stack: upside(entry.entries),
          ':@': attributes({ ...shared(entry), isolation: entry.isolated ? 'isolate' : 'auto' }),
        };
  const upside = (list: readonly StackEntry[]) => [...list].reverse().map(nodeOf);
  const image = {
    image: [{ stack: upside(entries), ':@': {} }],
    ':@': attributes({ version: '0.0.6', w: String(size.width), h: String(size.height), xres: '72', yres: '72' }),
  };
  return `<?xml version="1.0" encoding="UTF-8"?>\n${builder.build([image]).trim()}\n`;
}
