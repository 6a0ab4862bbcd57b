import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { encodeWhole } from '#codecs/deliver/encodeWhole.ts';
import { restOf } from '#codecs/deliver/formats/list.ts';
import type { VipsModule } from '#codecs/vipsModule.ts';
import { nodeLibraries } from '../engine/node/libraries.ts';
import { expose } from './camera/camera.ts';
import { encodeDng, mosaicOf, SENSOR, seenBySensor } from './camera/dng.ts';
import type { RadianceCanvas } from './radiance/canvas.ts';
import { DEMO_SETS, type DemoSet, type DemoShot } from './sets.ts';

const USAGE = `Makes demo frames.
  --set NAME       ${DEMO_SETS.map(({ name }) => name).join(', ')} (default: all)
  --width PIXELS   width of the frames, 3 : 2 (default 2400; 8256 makes 45 megapixels)
  --format FORMAT  jpeg, tiff, png or dng (default jpeg)
  --finer N        draw the light N times finer before it is averaged (default 2 up to 3000 pixels wide, else 1)
  --out FOLDER     where to write (default demo/out)`;

const QUALITY = 88;

type PictureFormat = 'tiff' | 'png' | 'jpeg';
type DemoFormat = PictureFormat | 'dng';

async function main(): Promise<void> {
  const { values } = parseArgs({
    options: {
      set: { type: 'string' },
      width: { type: 'string', default: '2400' },
      format: { type: 'string', default: 'jpeg' },
      finer: { type: 'string' },
      out: { type: 'string', default: 'demo/out' },
      help: { type: 'boolean', default: false },
    },
  });
  const width = Number(values.width);
  const format = values.format as DemoFormat;
  if (
    values.help ||
    !Number.isInteger(width) ||
    width < 30 ||
    width % 6 !== 0 ||
    !['jpeg', 'tiff', 'png', 'dng'].includes(format)
  ) {
    console.log(USAGE);
    process.exitCode = values.help ? 0 : 2;
    return;
  }
  const finer = Number(values.finer ?? (width <= 3000 ? 2 : 1));
  const vips = await nodeLibraries.vips();
  for (const set of DEMO_SETS.filter(({ name }) => !values.set || name === values.set)) {
    writeSet(vips, set, { width, finer, format, folder: join(values.out, set.name) });
  }
  vips.shutdown();
}

interface Output {
  width: number;
  finer: number;
  format: DemoFormat;
  folder: string;
}

function writeSet(vips: VipsModule, set: DemoSet, output: Output): void {
  mkdirSync(output.folder, { recursive: true });
  const say = (what: string) => (share: number) => report(`${set.title}: ${what}`, share);
  const size = { width: output.width, height: Math.round((output.width * 2) / 3) };
  // Above and below it is two thirds of that, for pictures are 3 : 2.
  const margin = 3 * Math.round((set.margin * output.width) / 3);
  let radiance: RadianceCanvas | undefined;
  for (const [index, shot] of set.shots.entries()) {
    if (!radiance || set.moves)
      radiance = set.radiance(output.width + 2 * margin, output.finer, say('drawing the light'), index);
    const isRaw = output.format === 'dng';
    const taken = isRaw ? { ...shot, look: seenBySensor(shot.look) } : shot;
    const saying = say(`${shot.file}, ${shot.ev > 0 ? '+' : ''}${shot.ev} EV`);
    const putBack = set.passing?.(radiance, index);
    const pixels = expose(radiance, taken, saying, isRaw ? 'linear' : 'srgb', size);
    putBack?.();
    const bytes =
      output.format === 'dng'
        ? encodeDng(mosaicOf(pixels, size), size, { ...shot, ...SENSOR })
        : encodeWhole(vips, pixels, size, { file: fileOf(output.format), exif: exifOf(shot) });
    writeFileSync(join(output.folder, fileName(shot, output.format)), bytes);
    report(`${set.title}: ${shot.file}`, 1);
  }
  writeFileSync(join(output.folder, 'truth.json'), `${JSON.stringify(truthOf(set, size, output.format), null, 2)}\n`);
}

const fileOf = (format: PictureFormat) => ({
  ...restOf(format),
  ...(format === 'jpeg' ? { quality: QUALITY, chroma: '4:2:0' as const } : {}),
});

const fileName = (shot: DemoShot, format: DemoFormat): string =>
  `${shot.file}.${{ jpeg: 'jpg', tiff: 'tif', png: 'png', dng: 'dng' }[format]}`;

function exifOf({ exposureTime, fNumber, iso, takenAt }: DemoShot) {
  return { ExposureTime: exposureTime, FNumber: fNumber, ISO: iso, DateTimeOriginal: takenAt, FocalLength: 24 };
}

/** What a perfect alignment and exposure estimate would find: shifts in pixels of these frames. */
function truthOf(set: DemoSet, size: { width: number; height: number }, format: DemoFormat) {
  const scale = size.width / 2400;
  return {
    title: set.title,
    ...size,
    frames: set.shots.map((shot) => ({
      file: fileName(shot, format),
      ev: shot.ev,
      shiftX: shot.placement.shiftX * scale,
      shiftY: shot.placement.shiftY * scale,
      turnDegrees: shot.placement.turnDegrees,
      zoom: shot.placement.zoom,
      tiltX: shot.placement.tiltX,
      tiltY: shot.placement.tiltY,
    })),
  };
}

let lastLine = '';
function report(what: string, share: number): void {
  const line = `${what} ${Math.floor(share * 20) * 5} %`;
  if (line === lastLine) return;
  lastLine = line;
  if (process.stdout.isTTY) process.stdout.write(`\r${line.padEnd(60)}${share >= 1 ? '\n' : ''}`);
  else if (share >= 1) console.log(line);
}

await main();
