// Runs every check: types, lint, unit tests, build, end-to-end tests. The last line tells how many passed and failed.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureDependencies } from './steps.mjs';

/** Programs that the tests call, files that they read, and the Debian packages that hold them. */
const TOOLS = {
  chromium: 'chromium',
  exiftool: 'libimage-exiftool-perl',
  tiffinfo: 'libtiff-tools',
  pngcheck: 'pngcheck',
  transicc: 'liblcms2-utils',
  'heif-enc': 'libheif-examples',
  djxl: 'libjxl-tools',
  avifdec: 'libavif-bin',
  webpinfo: 'webp',
  '/usr/share/color/icc/colord/AdobeRGB1998.icc': 'colord-data',
};

const counts = { passed: 0, failed: 0 };

function ensureTools() {
  const isThere = (tool) =>
    tool.startsWith('/') ? existsSync(tool) : spawnSync('sh', ['-c', `command -v ${tool}`]).status === 0;
  const missing = Object.keys(TOOLS).filter((tool) => !isThere(tool));
  if (missing.length === 0) return;
  const packages = missing.map((tool) => TOOLS[tool]);
  const mayInstall = process.getuid?.() === 0 && isThere('apt-get');
  if (mayInstall) {
    console.log(`Installing ${packages.join(', ')}...`);
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
    spawnSync('apt-get', ['update', '-qq'], { stdio: 'ignore', env });
    spawnSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages], { stdio: 'ignore', env });
  }
  const still = missing.filter((tool) => !isThere(tool));
  if (still.length === 0) return;
  console.error(
    `The tests need ${still.join(', ')}. Install with: apt-get install ${still.map((tool) => TOOLS[tool]).join(' ')}`,
  );
  finish(1);
}

/** A step that passes or fails as a whole, beside others. */
function check(title, command, args) {
  const since = Date.now();
  const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe'] });
  let output = '';
  for (const stream of [child.stdout, child.stderr]) {
    stream.on('data', (data) => {
      output += data;
    });
  }
  return new Promise((resolve) => {
    child.on('close', (code) => {
      const passed = code === 0;
      console.log(`${title}... ${passed ? 'passed' : 'failed'} (${((Date.now() - since) / 1000).toFixed(1)} s)`);
      if (!passed) console.error(output);
      counts[passed ? 'passed' : 'failed']++;
      resolve(passed);
    });
  });
}

/** A run of many tests, counted one by one. */
function suite(title, project) {
  console.log(`\n${title}`);
  const report = join(mkdtempSync(join(tmpdir(), 'lusket-report-')), 'report.json');
  const reporters = ['--reporter=default', '--reporter=json', `--outputFile.json=${report}`];
  const result = spawnSync('npx', ['vitest', 'run', '--project', project, ...reporters], { stdio: 'inherit' });
  const { numPassedTests = 0, numFailedTests = 0 } = existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')) : {};
  counts.passed += numPassedTests;
  // A suite that breaks before its tests run has failed although none of them did.
  counts.failed += result.status === 0 ? 0 : Math.max(1, numFailedTests);
}

function finish(more = 0) {
  counts.failed += more;
  console.log(`\n${counts.passed} passed, ${counts.failed} failed`);
  process.exit(counts.failed === 0 ? 0 : 1);
}

ensureDependencies();
ensureTools();
const npm = (script) => ['npm', ['run', '--silent', script]];
await check('Kernels', ...npm('build:kernels'));
const [built] = await Promise.all([
  check('Build', ...npm('build:app')).then(async (app) => (await check('Build for Node', ...npm('build:node'))) && app),
  check('Types of the application', ...npm('typecheck:app')),
  check('Types', ...npm('typecheck:rest')),
  check('Lint, dependency directions, dead code', ...npm('lint')),
]);
suite('Unit tests', 'unit');
if (built) suite('End-to-end tests', 'e2e');
else counts.failed++;
finish();
