// Takes the pictures of docs/screenshots from the demo. Needs the build and Chromium.
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { chromium } from 'playwright-core';

const OUT = 'docs/screenshots';
const FLAGS = [
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

mkdirSync(OUT, { recursive: true });
const server = spawn(process.execPath, ['dist/node/server.mjs', '--port', '0'], {
  stdio: ['ignore', 'pipe', 'inherit'],
});
// Also when a step below fails.
process.on('exit', () => server.kill());
const address = await new Promise((resolve) =>
  server.stdout.on('data', (data) => resolve(/http:\S+/.exec(String(data))?.[0])),
);
const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: FLAGS });
const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();

const shoot = async (name) => {
  await page.waitForTimeout(900);
  await page.screenshot({ path: `${OUT}/${name}.png` });
  console.log(`${OUT}/${name}.png`);
};

/** Drags the pointer along points of the fitted picture, in shares of its sides. */
async function paint(points) {
  const box = await page.getByTestId('canvas').boundingBox();
  const scale = Math.min((box.width - 32) / 2400, (box.height - 32) / 1600);
  const place = ([u, v]) => [
    box.x + box.width / 2 + (u - 0.5) * 2400 * scale,
    box.y + box.height / 2 + (v - 0.5) * 1600 * scale,
  ];
  await page.mouse.move(...place(points[0]));
  await page.mouse.down();
  for (const point of points.slice(1)) await page.mouse.move(...place(point), { steps: 16 });
  await page.mouse.up();
}

async function setNumber(where, name, value) {
  const field = where.getByLabel(`${name}, typed`, { exact: true });
  await field.fill(String(value));
  await field.press('Enter');
}
const setBrush = (name, value) => setNumber(page.getByRole('toolbar'), name, value);
const setPart = (name, value) => setNumber(page.getByLabel('Mask bench'), name, value);

const addPart = async (kind) => {
  await page.getByRole('button', { name: 'Add part' }).click();
  await page.getByRole('menuitem', { name: new RegExp(`^${kind}`) }).click();
};
const openMask = (name) => page.getByRole('radio', { name: new RegExp(`^${name}`) }).click();

await page.goto(address);
await page.getByRole('button', { name: 'Demo: Viaduct' }).click();
await page.getByTestId('frame-viaduct-7.jpg').waitFor();
await page.getByText('Reading').waitFor({ state: 'hidden' });
await page.waitForTimeout(1500);
await shoot('gather-moments');

await page.goto(address);
await page.getByRole('button', { name: 'Demo: Observatory' }).click();
await page.getByTestId('frame-observatory-3.jpg').waitFor();
await page.getByText('Reading').waitFor({ state: 'hidden' });
await page.getByRole('link', { name: /^Align/ }).click();
await page.getByRole('button', { name: 'Align all frames' }).click();
await page.getByRole('button', { name: 'Stop' }).waitFor();
await page.getByRole('button', { name: 'Align all frames' }).waitFor({ timeout: 120_000 });
await page.waitForTimeout(600);
await shoot('align');

await page.goto(address);
await page.getByRole('button', { name: 'Camera card…' }).click();
await page.getByRole('list', { name: 'Folders on the card' }).waitFor();
await shoot('card');

await page.goto(address);
await page.getByRole('button', { name: 'Demo: Tarn' }).click();
await page.getByTestId('frame-tarn-5.jpg').waitFor();
await page.waitForTimeout(1500);
await shoot('gather');
for (const index of [1, 2]) await page.getByRole('checkbox', { name: 'Mark to compare' }).nth(index).click();
await page.getByRole('button', { name: /^Compare/ }).click();
await page.getByLabel('Limits hatched').check();
await shoot('compare');
await page.keyboard.press('Escape');

await page.getByRole('link', { name: /^Match/ }).click();
await page.getByTestId('expose-tarn-2.jpg').click();
const develop = async (label, value) => {
  const field = page.getByLabel(`${label}, typed`, { exact: true });
  await field.fill(String(value));
  await field.press('Enter');
};
await develop('Exposure', 0.6);
await page.getByText('Surface in numbers').click();
await develop('Haze off', 30);
await page.getByText('Surface in numbers').click();
for (let i = 0; i < 4; i++) await page.getByLabel('White of the frame').press('ArrowRight');
const pull = async (end, by) => {
  const { x, y, width, height } = await page.getByTestId(end).boundingBox();
  await page.mouse.move(x + width / 2, y + height / 2);
  await page.mouse.down();
  await page.mouse.move(x + width / 2, y + height / 2 - by, { steps: 4 });
  await page.mouse.up();
};
await page.getByTestId('end-darks').scrollIntoViewIfNeeded();
await pull('end-darks', 32);
await pull('end-brights', -14);
await page.getByRole('button', { name: 'Reset all' }).scrollIntoViewIfNeeded();
await page.waitForTimeout(2500);
await shoot('match');
while ((await page.getByTestId('developed').textContent()) !== 'as taken') {
  await page.keyboard.press('Control+z');
  await page.waitForTimeout(50);
}
await page.getByRole('link', { name: /^Gather/ }).click();

await page.getByRole('button', { name: 'Continue to Blend' }).click();
await page.getByTestId('canvas').waitFor();
await page.waitForTimeout(1200);
// The darker frame for the sky, through the light tones of the base.
await page.getByRole('button', { name: 'Select layer −2 EV' }).click();
await openMask('Stencil');
await addPart('Tones');
await setPart('Narrowing', 0.5);
await openMask('Mask');
await setBrush('Size', 520);
await setBrush('Strength', 80);
for (const v of [0.05, 0.15, 0.25, 0.34])
  await paint([
    [0.01, v],
    [0.5, v + 0.02],
    [0.99, v],
  ]);
// The brighter frame for the shore, softly, in two passes.
await page.getByRole('button', { name: 'Select layer +2 EV' }).click();
await openMask('Stencil');
await addPart('Tones');
await page.getByRole('radio', { name: 'Dark' }).click();
await setPart('Narrowing', 1);
await openMask('Mask');
await setBrush('Strength', 55);
for (const v of [0.93, 0.84])
  await paint([
    [0.0, v - 0.02],
    [0.5, v],
    [1, v - 0.03],
  ]);
await paint([
  [0.02, 0.47],
  [0.3, 0.46],
  [0.4, 0.5],
]);
await page.getByRole('button', { name: 'Select layer −2 EV' }).click();
await page.mouse.move(720, 300);
await shoot('blend-picture');
await page.keyboard.press('i');
await page.mouse.move(560, 260);
await shoot('blend-grey');
await page.keyboard.press('u');
// A brush that leaves the sky bright above the ridges and among the larches, and what the checks say of it.
await page.keyboard.press('4');
await setBrush('Size', 340);
await setBrush('Hardness', 70);
await setBrush('Strength', 100);
for (const v of [0.1, 0.2])
  await paint([
    [0.02, v],
    [0.99, v],
  ]);
await page.keyboard.press('Shift+C');
await page.waitForTimeout(2500);
await page.getByTestId('checks').getByRole('status').waitFor({ state: 'detached', timeout: 60_000 });
await page.getByTestId('check-rims').click();
await shoot('checks-map');
await page.getByRole('button', { name: 'Visit the worst' }).click();
await page.waitForTimeout(900);
await page
  .getByRole('group', { name: /^Ways to mend/ })
  .getByRole('button')
  .first()
  .hover();
await shoot('checks-visit');
await page.mouse.move(600, 700);
await page.keyboard.press('Shift+C');
for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
await page.keyboard.press('4');
await setBrush('Hardness', 0);
await page.keyboard.press('g');
await page.waitForTimeout(600);
// The picture so far, laid once more in a mode.
await page.getByRole('button', { name: 'Lay…' }).click();
await page.getByRole('menuitem', { name: /^Picture so far/ }).click();
await page.getByRole('button', { name: /^Mode of/ }).click();
for (const key of ['ArrowRight', 'ArrowRight', 'ArrowRight']) await page.keyboard.press(key);
await page.waitForTimeout(2000);
await shoot('stack-modes');
await page.keyboard.press('Escape');
// Many cards: the picture so far made grey in hard light, grouped with the layer below; colours and adjustments; before under a divider.
const lay = async (name, only = false) => {
  await page.getByRole('button', { name: 'Lay…' }).click();
  if (only) await page.getByRole('radio', { name: /^Only/ }).click();
  await page.getByRole('menuitem', { name: new RegExp(`^${name}`) }).click();
};
await lay('To grey', true);
await page.getByRole('button', { name: 'Select layer So far' }).click();
await page.getByRole('button', { name: /^Mode of/ }).click();
await page.getByRole('radio', { name: 'hard-light', exact: true }).click();
await setPart('Opacity', 25);
await page.getByRole('button', { name: 'Group So far with the layer below' }).click();
for (const name of ['One colour', 'Contrast', 'Detail', 'Run of two colours']) await lay(name);
const made = 9;
await page.getByRole('button', { name: 'Select layer So far' }).click();
await page.keyboard.press('d');
await page.waitForTimeout(2500);
await shoot('stack-cards');
await page.keyboard.press('d');
for (let i = 0; i < made; i++) await page.keyboard.press('Control+z');

// A mask of many parts on the next layer.
await page.getByRole('button', { name: 'Select layer −4 EV' }).click();
await addPart('Tones');
await page.getByRole('radio', { name: 'Ladder' }).click();
await page.getByRole('group', { name: 'Tone ladder' }).getByRole('button').nth(3).hover();
await shoot('mask-ladder');
await page.getByRole('radio', { name: 'Channels' }).click();
await page.getByRole('button', { name: 'Mark this' }).click();
await paint([
  [0.3, 0.2],
  [0.62, 0.3],
]);
await page.getByRole('button', { name: 'Not this' }).click();
await paint([
  [0.1, 0.46],
  [0.4, 0.47],
]);
await page.waitForTimeout(1500);
await page.getByRole('button', { name: 'Not this' }).click();
await shoot('mask-channels');
await page.getByRole('radio', { name: 'Range', exact: true }).click();
await setPart('Narrowing', 1.5);
await addPart('Colour');
await page.getByRole('button', { name: 'Include' }).click();
await paint([
  [0.3, 0.13],
  [0.36, 0.12],
]);
await page.waitForTimeout(700);
await page.keyboard.press('Escape');
await addPart('Gradient');
await page.getByTestId('part-gradient').getByRole('combobox').selectOption('intersect');
await addPart('Difference');
await page.getByTestId('part-difference').getByRole('combobox').selectOption('subtract');
await addPart('Radial');
await page.getByTestId('part-radial').getByRole('combobox').selectOption('subtract');
await page.keyboard.press('o');
await page.mouse.move(300, 420);
await shoot('mask-parts');
for (let i = 0; i < 12; i++) await page.keyboard.press('Control+z');
await page.keyboard.press('u');
// Finished: black and white, light painted in, a glow at the sun, edges.
await page.getByRole('link', { name: /^Finish/ }).click();
await page.waitForTimeout(900);
const addStep = async (name) => {
  await page.getByRole('button', { name: 'Step…' }).click();
  await page.getByRole('menuitem', { name: new RegExp(`^${name}`) }).click();
  await page.waitForTimeout(400);
};
await addStep('Levels');
await setPart('White', 97);
await addStep('Dodge');
await setBrush('Strength', 40);
await paint([
  [0.62, 0.72],
  [0.5, 0.82],
  [0.44, 0.9],
]);
await addStep('Vignette');
await addStep('Lights');
await page.getByRole('button', { name: 'Add a light…' }).click();
const canvas = await page.getByTestId('canvas').boundingBox();
await page.mouse.click(canvas.x + canvas.width * 0.695, canvas.y + canvas.height * 0.36);
await page.getByTestId('light-0').waitFor();
await page.waitForTimeout(700);
await shoot('finish-steps');
await page.getByRole('radio', { name: /^Turn and crop/ }).click();
await page.waitForTimeout(600);
await setNumber(page.getByLabel('Turn and crop').last(), 'Straighten', 1.4);
await page.getByRole('button', { name: '16:9' }).click();
await page.waitForTimeout(600);
await shoot('finish-turn');
for (let i = 0; i < 12; i++) await page.keyboard.press('Control+z');
await page.getByRole('link', { name: /Export/ }).click();
await page.getByLabel('Write Screen').check();
await page.getByLabel('Write Layers').check();
await page.getByRole('button', { name: 'Preset Screen' }).click();
await page.getByRole('button', { name: 'Write 3 presets' }).click();
await page.getByRole('status', { name: 'What was written' }).waitFor({ timeout: 120_000 });
await page.getByRole('status', { name: 'Size of the file' }).getByText('about').waitFor();
await page.mouse.move(640, 20);
await page.waitForTimeout(400);
await shoot('export');
await page.getByRole('link', { name: 'Lusket' }).click();
await page.getByTestId('scene-Tarn').waitFor();
await page.getByRole('button', { name: 'Demo: Tarn' }).click();
await page.getByTestId('frame-tarn-5.jpg').waitFor();
await page.waitForTimeout(800);
await page.getByLabel('Name of the scene').fill('Tarn, second try');
await page.getByLabel('Name of the scene').press('Enter');
await page.getByRole('link', { name: 'Lusket' }).click();
await page.getByTestId('scene-Tarn, second try').waitFor();
await page.waitForTimeout(600);
await page.reload();
await shoot('home');

await browser.close();
server.kill();
