export type Rgb = readonly [number, number, number];

/** Linear light, unclipped, three floats a pixel. Places are in picture heights: x 0..width/height, y 0..1 downwards. */
export class RadianceCanvas {
  readonly width: number;
  readonly height: number;
  readonly rgb: Float32Array;

  constructor(width: number, height: number) {
    this.width = width;
    this.height = height;
    this.rgb = new Float32Array(width * height * 3);
  }

  /** Side of a pixel in picture heights. */
  get pixel(): number {
    return 1 / this.height;
  }

  /** Lays a colour over a pixel. */
  cover(column: number, row: number, colour: Rgb, coverage: number): void {
    const at = (row * this.width + column) * 3;
    for (let channel = 0; channel < 3; channel++)
      this.rgb[at + channel] += (colour[channel] - this.rgb[at + channel]) * coverage;
  }

  /** Light at a place between pixels; beyond the edge it repeats. */
  sample(x: number, y: number, out: [number, number, number]): void {
    const px = Math.min(this.width - 1.001, Math.max(0, x * this.height - 0.5));
    const py = Math.min(this.height - 1.001, Math.max(0, y * this.height - 0.5));
    const column = Math.floor(px);
    const row = Math.floor(py);
    const fx = px - column;
    const fy = py - row;
    const at = (row * this.width + column) * 3;
    const below = at + this.width * 3;
    for (let channel = 0; channel < 3; channel++) {
      const upper = this.rgb[at + channel] * (1 - fx) + this.rgb[at + 3 + channel] * fx;
      const lower = this.rgb[below + channel] * (1 - fx) + this.rgb[below + 3 + channel] * fx;
      out[channel] = upper * (1 - fy) + lower * fy;
    }
  }
}

/** A canvas whose pixels are the means of squares of another's. */
export function average(fine: RadianceCanvas, by: number): RadianceCanvas {
  const coarse = new RadianceCanvas(fine.width / by, fine.height / by);
  for (let row = 0; row < fine.height; row++) {
    for (let column = 0; column < fine.width; column++) {
      const from = (row * fine.width + column) * 3;
      const to = (Math.floor(row / by) * coarse.width + Math.floor(column / by)) * 3;
      for (let channel = 0; channel < 3; channel++) coarse.rgb[to + channel] += fine.rgb[from + channel] / (by * by);
    }
  }
  return coarse;
}

/** Draws a tapered line, thinner than a pixel where need be. */
export function drawTwig(
  canvas: RadianceCanvas,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  thick0: number,
  thick1: number,
  colour: Rgb,
): void {
  const h = canvas.height;
  const [ax, ay, bx, by] = [x0 * h, y0 * h, x1 * h, y1 * h];
  const [dx, dy] = [bx - ax, by - ay];
  const length2 = dx * dx + dy * dy || 1e-9;
  const reach = Math.max(thick0, thick1) * h * 0.5 + 1;
  const toRow = Math.min(canvas.height - 1, Math.ceil(Math.max(ay, by) + reach));
  const toColumn = Math.min(canvas.width - 1, Math.ceil(Math.max(ax, bx) + reach));
  for (let row = Math.max(0, Math.floor(Math.min(ay, by) - reach)); row <= toRow; row++) {
    for (let column = Math.max(0, Math.floor(Math.min(ax, bx) - reach)); column <= toColumn; column++) {
      const px = column + 0.5 - ax;
      const py = row + 0.5 - ay;
      const t = Math.min(1, Math.max(0, (px * dx + py * dy) / length2));
      const distance = Math.hypot(px - dx * t, py - dy * t);
      const thick = (thick0 + (thick1 - thick0) * t) * h;
      const coverage = Math.min(1, thick) * Math.min(1, Math.max(0, Math.max(thick, 1) / 2 + 0.5 - distance));
      if (coverage > 0) canvas.cover(column, row, colour, coverage);
    }
  }
}

/** Fills a convex polygon; `shade` tells its colour at each place. */
export function fillPolygon(
  canvas: RadianceCanvas,
  corners: readonly (readonly [number, number])[],
  shade: (x: number, y: number) => Rgb,
): void {
  const h = canvas.height;
  const xs = corners.map(([x]) => x * h);
  const ys = corners.map(([, y]) => y * h);
  let area = 0;
  corners.forEach((_, i) => {
    const j = (i + 1) % corners.length;
    area += xs[i] * ys[j] - xs[j] * ys[i];
  });
  const sign = Math.sign(area);
  for (
    let row = Math.max(0, Math.floor(Math.min(...ys)) - 1);
    row <= Math.min(canvas.height - 1, Math.max(...ys) + 1);
    row++
  ) {
    for (
      let column = Math.max(0, Math.floor(Math.min(...xs)) - 1);
      column <= Math.min(canvas.width - 1, Math.max(...xs) + 1);
      column++
    ) {
      let inside = 1;
      for (let i = 0; i < xs.length && inside > 0; i++) {
        const j = (i + 1) % xs.length;
        const [ex, ey] = [xs[j] - xs[i], ys[j] - ys[i]];
        const distance = (sign * (ex * (row + 0.5 - ys[i]) - ey * (column + 0.5 - xs[i]))) / (Math.hypot(ex, ey) || 1);
        inside = Math.min(inside, Math.max(0, distance + 0.5));
      }
      if (inside > 0) canvas.cover(column, row, shade((column + 0.5) / h, (row + 0.5) / h), inside);
    }
  }
}
