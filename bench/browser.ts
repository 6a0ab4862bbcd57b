import { parseArgs } from 'node:util';
import { chromium, type Locator, type Page } from 'playwright-core';
import { newScene } from '#core/scene/scene.ts';
import { stepSetOf, writeStepSet } from '#core/scene/stepSet.ts';
import { CHROMIUM, FLAGS, startServer } from '../e2e/launch.ts';
import { withSteps } from './finishing.ts';
import { SIZES, tiffPaths } from './frames.ts';
import { type Measure, quantile, tableOf } from './measure.ts';
import { Pace } from './pace.ts';
import { writeSection } from './report.ts';

const { values } = parseArgs({ options: { seconds: { type: 'string', default: '60' }, shots: { type: 'string' } } });

/** What the page notes down of its own drawing: times in milliseconds. */
interface Notes {
  pointerrawupdate: number[];
  wheel: number[];
  /** When wheel events arrived in the page: the browser holds them until its next frame. */
  wheelArrivals: number[];
  input: number[];
  /** Tiles put on a sheet, and sheets drawn on the canvas. */
  puts: number[];
  paints: number[];
  /** All that was asked for is drawn: after a change of the scene, and whenever. */
  settles: number[];
  rests: number[];
  longTasks: number[];
  /** What the page's own thread did longest, by name of the script or event, each with how long it took. */
  longWork: [name: string, ms: number][];
}

/** Runs in the page before anything else of it. */
function takeNotes(): void {
  const notes: Notes = {
    pointerrawupdate: [],
    wheel: [],
    wheelArrivals: [],
    input: [],
    puts: [],
    paints: [],
    settles: [],
    rests: [],
    longTasks: [],
    longWork: [],
  };
  (globalThis as unknown as { notes: Notes }).notes = notes;
  let lastSettled: string | undefined;
  const watch = <T extends object>(prototype: T, name: keyof T, list: number[], counts: (self: unknown) => boolean) => {
    const original = prototype[name] as (...args: unknown[]) => unknown;
    prototype[name] = function (this: unknown, ...args: unknown[]) {
      const result = original.apply(this, args);
      if (counts(this)) list.push(performance.now());
      return result;
    } as T[keyof T];
  };
  watch(OffscreenCanvasRenderingContext2D.prototype, 'putImageData', notes.puts, () => true);
  watch(CanvasRenderingContext2D.prototype, 'drawImage', notes.paints, (self) => {
    return (self as CanvasRenderingContext2D).canvas.dataset.testid === 'canvas';
  });
  for (const type of ['pointerrawupdate', 'wheel', 'input'] as const)
    addEventListener(type, ({ timeStamp }) => notes[type].push(timeStamp), { capture: true });
  addEventListener('wheel', () => notes.wheelArrivals.push(performance.now()), { capture: true });
  new MutationObserver(() => {
    const { settled } = document.querySelector<HTMLElement>('[data-testid=canvas]')?.dataset ?? {};
    // It is taken away while anything is being drawn.
    if (settled === undefined) return;
    notes.rests.push(performance.now());
    if (settled !== lastSettled) notes.settles.push(performance.now());
    lastSettled = settled;
  }).observe(document, {
    subtree: true,
    attributes: true,
    attributeFilter: ['data-settled'],
  });
  new PerformanceObserver((list) => {
    for (const { duration, name } of list.getEntries()) {
      notes.longTasks.push(duration);
      notes.longWork.push([`task of ${name}`, duration]);
    }
  }).observe({ type: 'longtask' });
  // Frames that took long, with the scripts that ran in them and what called those.
  interface FrameEntry extends PerformanceEntry {
    scripts: { invoker: string; sourceFunctionName: string; duration: number }[];
    styleAndLayoutStart: number;
    renderStart: number;
  }
  new PerformanceObserver((list) => {
    for (const entry of list.getEntries() as FrameEntry[]) {
      const { scripts, startTime, duration, styleAndLayoutStart } = entry;
      for (const { invoker, sourceFunctionName, duration: ms } of scripts)
        notes.longWork.push([`${invoker} ${sourceFunctionName}`.trim(), ms]);
      const own = scripts.reduce((sum, each) => sum + each.duration, 0);
      const layout = styleAndLayoutStart > 0 ? startTime + duration - styleAndLayoutStart : 0;
      notes.longWork.push(['style and layout', layout], ['the browser itself', Math.max(0, duration - own - layout)]);
    }
  }).observe({ type: 'long-animation-frame' });
}

/** Does something and answers what the page noted meanwhile. */
async function noted(page: Page, work: () => Promise<void>): Promise<Notes> {
  await page.evaluate(() => {
    const { notes } = globalThis as unknown as { notes: Notes };
    for (const list of Object.values(notes)) list.length = 0;
  });
  await work();
  return page.evaluate(() => (globalThis as unknown as { notes: Notes }).notes);
}

/** Milliseconds from each event to the first of some times after it. */
function delays(events: readonly number[], after: (event: number) => number | undefined): number[] {
  return events.flatMap((event) => {
    const then = after(event);
    return then === undefined ? [] : [then - event];
  });
}

const firstAfter = (times: readonly number[], time: number) => times.find((each) => each >= time);

async function settle(page: Page): Promise<void> {
  await page.waitForTimeout(500);
}

async function open(page: Page): Promise<number> {
  const paths = await tiffPaths(SIZES[45], 'none');
  const since = performance.now();
  await page.getByTestId('choose-frames').setInputFiles(paths);
  await page.getByText('Reading').waitFor();
  if (values.shots) {
    await page.waitForTimeout(4000);
    await page.screenshot({ path: `${values.shots}/loading.png` });
  }
  await page.getByText('Reading').waitFor({ state: 'hidden', timeout: 300_000 });
  return performance.now() - since;
}

async function place(page: Page): Promise<(u: number, v: number) => [number, number]> {
  const box = await page.getByTestId('canvas').boundingBox();
  if (!box) throw new Error('There is no canvas');
  return (u, v) => [box.x + box.width * u, box.y + box.height * v];
}

async function measureBrush(page: Page): Promise<Measure[]> {
  const at = await place(page);
  const pace = new Pace(4);
  const { pointerrawupdate, puts, paints } = await noted(page, async () => {
    for (let row = 0; row < 4; row++) {
      await page.mouse.move(...at(0.2, 0.3 + row * 0.1));
      await page.mouse.down();
      for (let i = 0; i < 25; i++) {
        await pace.tick();
        await page.mouse.move(...at(0.2 + i * 0.024, 0.3 + row * 0.1 + 0.02 * Math.sin(i / 3)));
        await page.waitForTimeout(60);
      }
      await page.mouse.up();
      await settle(page);
    }
  });
  const waits = delays(pointerrawupdate, (event) => {
    const put = firstAfter(puts, event);
    return put === undefined ? undefined : firstAfter(paints, put);
  }).filter((wait) => wait < 500);
  return [
    {
      measure: 'brush at fit, pointer event to pixels, median',
      value: quantile(waits, 0.5),
      unit: 'ms',
      bar: 12,
      pace,
    },
    { measure: 'brush at fit, pointer event to pixels, 95 %', value: quantile(waits, 0.95), unit: 'ms', bar: 35, pace },
  ];
}

/** @param rule - A slider.
 * @param rest - Milliseconds from one event to the next. */
async function measureRule(page: Page, rule: Locator, measure: string, rest: number): Promise<Measure> {
  const box = await rule.boundingBox();
  if (!box) throw new Error('There is no slider');
  const pace = new Pace(20);
  const from = box.x + box.width * 0.3;
  const { input, settles } = await noted(page, async () => {
    await page.mouse.move(from, box.y + box.height / 2);
    await page.mouse.down();
    for (let i = 1; i <= 20; i++) {
      await pace.tick();
      await page.mouse.move(from + i * 2, box.y + box.height / 2);
      await page.waitForTimeout(rest);
    }
    await page.mouse.up();
    await settle(page);
  });
  const waits = delays(input, (event) => firstAfter(settles, event)).filter((wait) => wait < 2000);
  return { measure, value: quantile(waits, 0.5), unit: 'ms', bar: 60, pace };
}

async function measureSlider(page: Page): Promise<Measure[]> {
  const rule = page.getByLabel('Narrowing', { exact: true }).first();
  return [await measureRule(page, rule, 'mask slider to full picture at fit, median', 180)];
}

/** The lowest of eight masked steps above the blend, and the two above it: a slider of each, from the event to the fitted picture. */
async function measureSteps(page: Page): Promise<Measure[]> {
  await page.getByRole('link', { name: /^Finish/ }).click();
  await page.getByTestId('canvas').waitFor();
  const size = SIZES[45];
  const set = { ...stepSetOf(withSteps(newScene('bench'), size), 'bench'), side: Math.max(size.width, size.height) };
  await page.getByRole('button', { name: 'Sets…' }).click();
  const buffer = Buffer.from(writeStepSet(set));
  await page.getByLabel('File of steps').setInputFiles({ name: 'bench.json', mimeType: 'application/json', buffer });
  await page.getByRole('button', { name: 'Lay bench over this picture' }).click();
  await page.keyboard.press('Escape');
  // What was measured before has left it zoomed.
  const zoomed = page.getByTitle('Switch between fit and 100 %');
  if ((await zoomed.textContent()) !== '10 %') await page.keyboard.press('g');
  await page.waitForTimeout(3000);
  if (values.shots) await page.screenshot({ path: `${values.shots}/finished.png` });
  const measures: Measure[] = [];
  for (const [step, name] of [
    ['Levels', 'Midtones'],
    ['Ends', 'Darks'],
    ['Colour', 'Saturation'],
  ]) {
    await page.getByRole('button', { name: `Select layer ${step}` }).click();
    await page.waitForTimeout(3000);
    const what = `slider: ${step}, ${name}, of eight steps, to the fitted picture, in the page, median`;
    measures.push(await measureRule(page, page.getByRole('slider', { name, exact: true }).first(), what, 500));
  }
  return measures;
}

async function measureMoves(page: Page): Promise<Measure[]> {
  const at = await place(page);
  const pace = new Pace(20);
  const { wheel, wheelArrivals, paints, rests } = await noted(page, async () => {
    for (let i = 0; i < 24; i++) {
      await pace.tick();
      await page.mouse.move(...at(0.3 + 0.4 * ((i * 0.618) % 1), 0.3 + 0.4 * ((i * 0.414) % 1)));
      await page.mouse.wheel(0, i % 8 < 4 ? -380 : 380);
      await page.waitForTimeout(450);
    }
  });
  const first = delays(wheel, (event) => firstAfter(paints, event));
  const own = delays(wheelArrivals, (event) => firstAfter(paints, event));
  const final = delays(wheel, (event) => firstAfter(rests, event));
  return [
    {
      measure: 'pan and zoom, first (coarse) picture, from the event in the page, median',
      value: quantile(own, 0.5),
      unit: 'ms',
      bar: 16,
      pace,
    },
    { measure: 'the same from when the browser had the event', value: quantile(first, 0.5), unit: 'ms' },
    { measure: 'pan and zoom, final picture, median', value: quantile(final, 0.5), unit: 'ms', bar: 120, pace },
  ];
}

/** Paints as a hand does, strokes and pauses, and answers the longest task of the page's own thread. */
async function paintOn(page: Page, seconds: number): Promise<Measure[]> {
  const at = await place(page);
  const { longTasks, longWork } = await noted(page, async () => {
    const until = Date.now() + seconds * 1000;
    for (let stroke = 0; Date.now() < until; stroke++) {
      const v = 0.15 + 0.7 * ((stroke * 0.618) % 1);
      await page.mouse.move(...at(0.1, v));
      await page.mouse.down();
      for (let i = 0; i < 60; i++) {
        await page.mouse.move(...at(0.1 + i * 0.013, v + 0.03 * Math.sin(i / 5)));
        await page.waitForTimeout(8);
      }
      await page.mouse.up();
      await page.waitForTimeout(250);
    }
  });
  const title = `painting for ${seconds} s`;
  const longest = longWork.sort((a, b) => b[1] - a[1]).slice(0, 6);
  console.log(
    `longest work in tasks and frames over 50 ms: ${longest.map(([name, ms]) => `${name} ${ms.toFixed(0)} ms`).join('; ') || 'none'}`,
  );
  return [
    { measure: `${title}: longest task of the page`, value: Math.max(0, ...longTasks), unit: 'ms' },
    { measure: `${title}: tasks over 50 ms`, value: longTasks.length, unit: 'times', bar: 0 },
  ];
}

async function main(): Promise<void> {
  if (!CHROMIUM) throw new Error('This needs Chromium: apt-get install chromium');
  const { server, address } = await startServer();
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: FLAGS });
  try {
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await page.addInitScript(takeNotes);
    await page.goto(address);
    const opened = await open(page);
    await page.getByRole('button', { name: 'Continue to Blend' }).click();
    await page.getByTestId('canvas').waitFor();
    await settle(page);
    await page
      .getByRole('button', { name: /^Select layer/ })
      .first()
      .click();
    await page.getByRole('radio', { name: /^Stencil/ }).click();
    await page.getByRole('button', { name: 'Add part' }).click();
    await page.getByRole('menuitem', { name: /^Tones/ }).click();
    await page.getByRole('radio', { name: 'Mask', exact: true }).click();
    await page.getByLabel('Size, typed').fill('1032');
    await page.getByLabel('Size, typed').press('Enter');
    await settle(page);
    const results: Measure[] = await measureBrush(page);
    await page.getByRole('radio', { name: /^Stencil/ }).click();
    await page.getByRole('button', { name: 'Apply as mask' }).click();
    await page.getByTestId('part-tone').getByRole('button').first().click();
    await settle(page);
    results.push(...(await measureSlider(page)));
    await settle(page);
    results.push(
      ...(await measureMoves(page)),
      ...(await paintOn(page, Number(values.seconds))),
      ...(await measureSteps(page)),
      {
        measure: 'opening 5 x 45 MP TIFF, stored in the browser too',
        value: opened,
        unit: 'ms',
      },
    );
    if (values.shots) await page.screenshot({ path: `${values.shots}/painted.png` });
    const table = `Chromium ${browser.version()}\n\n${tableOf(results)}`;
    console.log(table);
    writeSection('browser', table);
  } finally {
    await browser.close();
    server.kill();
  }
}

await main();
