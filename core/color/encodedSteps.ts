import { ALONE, gainTable, type Through } from '../kernels/encodedSteps.ts';
import { logTable } from '../kernels/logTable.ts';
import type { RgbFloats } from '../kernels/planes.ts';
import type { Curve, PointStep } from './pointSteps.ts';
import { encodeSrgb } from './srgb.ts';
import type { StepTools, Surroundings } from './surroundings.ts';
import { TONE_SPAN, toneOfCode } from './toneCodes.ts';

/** From light to encoded floats, 0..65535 and beyond. */
export const ENCODING = logTable((light) => 65535 * encodeSrgb(light));

/** Steps that light is not needed for: what they make of encoded floats, 0..65535 and beyond, laid over others through a mask.
 * @param out - Overwritten; none of the planes that are read. */
export type EncodedRun = (
  values: RgbFloats,
  below: RgbFloats,
  around: Surroundings,
  through: Through,
  out: RgbFloats,
  tools: StepTools,
) => void;

/** Steps in a row as passes over encoded values; undefined where one of them takes light. */
export function encodedRunOf(steps: readonly PointStep[]): EncodedRun | undefined {
  const passes = passesOf(steps);
  if (!passes) return undefined;
  return (values, below, around, through, out, tools) => {
    for (const [index, pass] of passes.entries()) {
      const isLast = index === passes.length - 1;
      pass(index === 0 ? values : out, isLast ? below : out, around, isLast ? through : ALONE, out, tools);
    }
  };
}

/** Curves become one; each other step is a pass. */
function passesOf(steps: readonly PointStep[]): EncodedRun[] | undefined {
  const curves = steps.flatMap((each) => (each.step === 'channels' ? [each.curves] : []));
  if (curves.length > 0) return curves.length === steps.length ? [channelsPass(curves)] : undefined;
  const onto = steps.flatMap((each) => (each.step === 'base' ? [each.onto] : []));
  if (onto.length > 0) return onto.length === steps.length ? [basePass(onto)] : undefined;
  const details = steps.flatMap((each) => (each.step === 'detail' ? [each] : []));
  return details.length > 0 && details.length === steps.length ? details.map(detailPass) : undefined;
}

function channelsPass(all: readonly (readonly [Curve, Curve, Curve])[]): EncodedRun {
  const tables = new Map<string, Float32Array>();
  const tableOf = (channel: 0 | 1 | 2): Float32Array => {
    // Channels with the same curves share their table.
    const alike = ([0, 1, 2] as const).find((other) => all.every((curves) => curves[other] === curves[channel]));
    const name = String(alike);
    const made =
      tables.get(name) ?? logTable((encoded) => 65535 * all.reduce((value, curves) => curves[channel](value), encoded));
    tables.set(name, made);
    return made;
  };
  const [red, green, blue] = ([0, 1, 2] as const).map(tableOf);
  // A curve begins at black: what lies outside the space is black to it.
  const reading = { unit: 1 / 65535, least: 0 };
  return (values, below, _, through, out, { kernels, within }) => {
    for (const [channel, table] of [red, green, blue].entries())
      kernels.mixMapped(within(table), reading, values[channel], below[channel], through, out[channel]);
  };
}

function basePass(changes: readonly ((stops: number) => number)[]): EncodedRun {
  const table = gainTable((code) => {
    const before = toneOfCode(code);
    return changes.reduce((stops, onto) => onto(stops), before) - before;
  }, false);
  return (values, below, { bases }, through, out, { kernels, within }) =>
    kernels.gainEncoded(
      { table: within(table), codes: bases.get('picture') ?? 0 },
      within(ENCODING),
      values,
      below,
      through,
      out,
    );
}

function detailPass({ radius, amount }: { radius: number; amount: number }): EncodedRun {
  const table = gainTable((codes) => (amount * codes * TONE_SPAN) / 65535, true);
  return (values, below, { tones = 0, bases }, through, out, { kernels, within }) =>
    kernels.gainEncoded(
      { table: within(table), codes: tones, base: bases.get(radius) ?? 0 },
      within(ENCODING),
      values,
      below,
      through,
      out,
    );
}
