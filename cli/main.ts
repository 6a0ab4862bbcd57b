import { render } from './render.ts';

const USAGE = `Usage:
  lusket render SCENE.lusket --out FILE [--quality N]
      Renders a scene at full size. The ending of FILE chooses the format: .tif, .png or .jpg.
      --quality N   JPEG quality, 1 to 100 (default 92)`;

const [command, ...rest] = process.argv.slice(2);
try {
  if (command === 'render') {
    await render(rest);
  } else {
    console.log(USAGE);
    process.exitCode = command === undefined || command === '--help' ? 0 : 2;
  }
} catch (error) {
  console.error(`lusket: ${(error as Error).message}`);
  process.exitCode = 1;
}
