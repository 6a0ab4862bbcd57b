import { align } from './align.ts';
import { check } from './check.ts';
import { CommandError, EXIT } from './exit.ts';
import { info } from './info.ts';
import { render } from './render.ts';

const USAGE = `Usage:
  lusket render SCENE.lusket --out FILE [--quality N] [--space NAME] [--originals FOLDER]
      Renders a scene at full size. The ending of FILE chooses the format: .tif, .png or .jpg.
      --quality N         JPEG quality, 1 to 100 (default 92)
      --space NAME        colours of the file: srgb, display-p3 or bt2020 (default: those of the scene)
      --originals FOLDER  where to look for files that the scene file was written without; they are known by their
                          content, whatever they are called
  lusket align BASE FRAME... [--json]
      Finds how each frame lies on the base: a matrix from frame pixels to base pixels, counted from the centre of the
      upper left pixel, how far off it is (pixels), what share of the picture agrees, and a verdict: good, look or failed.
  lusket check SCENE.lusket [--json] [--originals FOLDER]
      Measures what photographers look for by eye (rims, seams, flat places, wrong light, ghosts, noise, limits, colour shifts,
      edges left bare) and lists places to visit, in pixels of the scene, the worst of each first.
  lusket info FILE... [--json]
      Tells what each file is: format, size, bits, colour profile and shot data, or why it cannot be read.
      ev is the exposure value at ISO 100 (APEX): log2(aperture squared / time) - log2(ISO / 100).

Exit status: 0 done, 1 failed, 2 wrong usage, 3 files of the scene are missing, 4 the scene file cannot be opened.`;

const [command, ...rest] = process.argv.slice(2);
try {
  if (command === 'render') {
    await render(rest);
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
