import { align } from './align.ts';
import { check } from './check.ts';
import { CommandError, EXIT } from './exit.ts';
import { exportScenes, frames, layers, masks, render } from './export.ts';
import { info } from './info.ts';

const USAGE = `Usage:
  lusket export SCENE.lusket... --out FOLDER [--preset NAME|FILE]... [--space S] [--size S] [--quality N] [--bits N]
      Delivers scenes by presets: print (the default), screen, layers, or a file that the application saved. Presets that show the
      same picture are rendered once.
      --space S           colours of the files: srgb, display-p3, bt2020, oprgb, or an ICC profile
      --size S            full, pixels of the long side (2048), megapixels (12mp) or per cent (50%)
      --quality N         1 to 100, for formats that lose detail
      --bits N            bits of each channel, as the format has them
  lusket render SCENE.lusket --out FILE [--space S] [--size S] [--quality N] [--bits N]
      Renders a scene to one file. Its ending chooses the format: .tif, .png, .jpg, .webp, .avif, .jxl or .hdr.
  lusket layers SCENE.lusket --ora FILE | --tiff FILE
      Writes the layers to an OpenRaster file, or as pages of a TIFF, and tells what they cannot say and was rendered into them.
  lusket masks SCENE.lusket... --out FOLDER [--format png|tiff] [--of NAME]...
      Writes masks as grey pictures of 16 bits: all, or those of the items that are called so.
  lusket frames SCENE.lusket... --out FOLDER [--format NAME] [--taken] [--space S] [--bits N]
      Writes the frames as they are placed, developed or as they were taken.
      All of these take --json (a report for other programs), --texts FILE (title, caption, keywords, creator and rights as
      JSON) and --originals FOLDER, where to look for files that the scene file was written without; they are known by their
      content, whatever they are called. Files have another name until they are whole. See docs/lusket.1.md.
  lusket align BASE FRAME... [--json]
      Finds how each frame lies on the base: a matrix from frame pixels to base pixels, counted from the centre of the
      upper left pixel, how far off it is (pixels), what share of the picture agrees, and a verdict: good, look or failed.
  lusket check SCENE.lusket [--finished] [--json] [--originals FOLDER]
      Measures what photographers look for by eye (rims, seams, flat places, wrong light, ghosts, noise, limits, colour shifts,
      edges left bare) and lists places to visit, in pixels of the scene, the worst of each first. With --finished the steps
      that finish the picture are looked at as well, and only what is delivered of it.
  lusket info FILE... [--json]
      Tells what each file is: format, size, bits, colour profile and shot data, or why it cannot be read.
      ev is the exposure value at ISO 100 (APEX): log2(aperture squared / time) - log2(ISO / 100).

Exit status: 0 done, 1 failed, 2 wrong usage, 3 files of the scene are missing, 4 the scene file cannot be opened.`;

const [command, ...rest] = process.argv.slice(2);
try {
  if (command === 'render') {
    await render(rest);
  } else if (command === 'export') {
    await exportScenes(rest);
  } else if (command === 'layers') {
    await layers(rest);
  } else if (command === 'masks') {
    await masks(rest);
  } else if (command === 'frames') {
    await frames(rest);
  } else if (command === 'align') {
    await align(rest);
  } else if (command === 'check') {
    await check(rest);
  } else if (command === 'info') {
    await info(rest);
  } else {
    console.log(USAGE);
    process.exitCode = command === undefined || command === '--help' ? EXIT.done : EXIT.usage;
  }
} catch (error) {
  console.error(`lusket: ${(error as Error).message}`);
  process.exitCode = error instanceof CommandError ? error.status : EXIT.failed;
}
