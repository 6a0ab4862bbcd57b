import { align } from './align.ts';
import { info } from './info.ts';
import { render } from './render.ts';

const USAGE = `Usage:
  lusket render SCENE.lusket --out FILE [--quality N]
      Renders a scene at full size. The ending of FILE chooses the format: .tif, .png or .jpg.
      --quality N   JPEG quality, 1 to 100 (default 92)
  lusket align BASE FRAME... [--json]
      Finds how each frame lies on the base: a matrix from frame pixels to base pixels, counted from the centre of the
      upper left pixel, how far off it is (pixels), what share of the picture agrees, and a verdict: good, look or failed.
  lusket info FILE... [--json]
      Tells what each file is: format, size, bits, colour profile and shot data, or why it cannot be read.
      ev is the exposure value at ISO 100 (APEX): log2(aperture squared / time) - log2(ISO / 100).`;

const [command, ...rest] = process.argv.slice(2);
try {
  if (command === 'render') {
    await render(rest);
  } else if (command === 'align') {
    await align(rest);
  } else if (command === 'info') {
    await info(rest);
  } else {
    console.log(USAGE);
    process.exitCode = command === undefined || command === '--help' ? 0 : 2;
  }
} catch (error) {
  console.error(`lusket: ${(error as Error).message}`);
  process.exitCode = 1;
}
