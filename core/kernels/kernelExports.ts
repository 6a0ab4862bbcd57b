/** What the compiled module of `core/assembly` exports; addresses in bytes. */
export interface KernelExports {
  composite(
    red: number,
    green: number,
    blue: number,
    layers: number,
    count: number,
    outRed: number,
    outGreen: number,
    outBlue: number,
    n: number,
    floats: number,
    spare: number,
  ): void;
  widen(samples: number, out: number, n: number): void;
  widenRows(samples: number, stride: number, out: number, outStride: number, width: number, rows: number): void;
  narrow(values: number, out: number, n: number): number;
  uniform(samples: number, n: number): number;
  join(mode: number, mask: number, part: number, alpha: number, n: number): void;
  joinSamples(mode: number, mask: number, part: number, alpha: number, out: number, n: number): number;
  joinFromSamples(mode: number, mask: number, part: number, n: number): void;
  findCore(mean: number, square: number, amount: number, from: number, begins: number, steep: number, n: number): void;
  invert(plane: number, n: number): void;
  maxInto(out: number, other: number, n: number): void;
  layDab(
    coverage: number,
    x: number,
    y: number,
    radius: number,
    hardness: number,
    share: number,
    flow: number,
    l: number,
    a: number,
    b: number,
    centreL: number,
    centreA: number,
    centreB: number,
    perTolerance: number,
  ): void;
  paintOver(
    value: number,
    alpha: number,
    coverage: number,
    target: number,
    strength: number,
    stencil: number,
    constant: number,
    n: number,
    fresh: number,
  ): void;
  paintEnlarged(
    value: number,
    alpha: number,
    area: number,
    side: number,
    offset: number,
    step: number,
    target: number,
    strength: number,
    stencil: number,
    constant: number,
    fresh: number,
    spare: number,
    row: number,
  ): void;
  joinEnlarged(
    mask: number,
    out: number,
    area: number,
    side: number,
    offset: number,
    step: number,
    target: number,
    strength: number,
    stencil: number,
    constant: number,
    spare: number,
    row: number,
  ): number;
  luminance(red: number, green: number, blue: number, wr: number, wg: number, wb: number, out: number, n: number): void;
  lookUp(table: number, samples: number, out: number, n: number): void;
  halve(fine: number, out: number, quarterX: number, quarterY: number): void;
  halvePlane(plane: number, side: number, out: number): void;
  spread8(block: number, stride: number, red: number, green: number, blue: number, width: number, rows: number): void;
  spread16(block: number, stride: number, red: number, green: number, blue: number, width: number, rows: number): void;
  interleave(red: number, green: number, blue: number, out: number, n: number): void;
  drawRgba(red: number, green: number, blue: number, out: number, n: number): void;
  drawGrey(plane: number, out: number, n: number): void;
  tint(
    rgba: number,
    mask: number,
    constant: number,
    red: number,
    green: number,
    blue: number,
    strength: number,
    n: number,
  ): void;
  countLevels(plane: number, width: number, height: number, bins: number): void;
  enlarge(area: number, side: number, offsetX: number, offsetY: number, step: number, out: number, spare: number): void;
  gradient(out: number, start: number, across: number, down: number, profile: number, smooth: number): void;
  meanRows(plane: number, out: number, width: number, height: number, radius: number): void;
  meanColumns(plane: number, out: number, width: number, height: number, radius: number): void;
  multiply(a: number, b: number, out: number, n: number): void;
  fitLine(guide: number, mask: number, guideSquare: number, product: number, epsilon: number, n: number): void;
  fitNarrow(
    guide: number,
    mask: number,
    slope: number,
    offset: number,
    width: number,
    height: number,
    radius: number,
    epsilon: number,
    spare: number,
  ): void;
  applyLine(slope: number, offset: number, stride: number, guide: number, constant: number, out: number): number;
  linearize(table: number, samples: number, out: number, n: number): void;
  encodeLinear(knots: number, values: number, out: number, n: number): void;
  warp(planes: number, side: number, matrix: number, weights: number): void;
  tapRows(plane: number, out: number, width: number, height: number, distance: number, weight: number): void;
  tapColumns(plane: number, out: number, width: number, height: number, distance: number, weight: number): void;
  boxRows(plane: number, out: number, width: number, height: number, radius: number, edge: number, line: number): void;
  boxColumns(plane: number, out: number, width: number, height: number, radius: number, edge: number): void;
}
