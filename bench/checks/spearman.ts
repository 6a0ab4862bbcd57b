/** Rank correlation of two lists (Spearman 1904), ties sharing their mean rank. */
export function spearman(a: readonly number[], b: readonly number[]): number {
  const [x, y] = [ranks(a), ranks(b)];
  const mean = (a.length - 1) / 2;
  let [both, own, other] = [0, 0, 0];
  for (const [i, rank] of x.entries()) {
    both += (rank - mean) * (y[i] - mean);
    own += (rank - mean) ** 2;
    other += (y[i] - mean) ** 2;
  }
  return both / Math.sqrt(own * other);
}

function ranks(values: readonly number[]): number[] {
  const order = values.map((_, i) => i).sort((i, k) => values[i] - values[k]);
  const out = new Array<number>(values.length);
  for (let from = 0; from < order.length; ) {
    let to = from;
    while (to + 1 < order.length && values[order[to + 1]] === values[order[from]]) to++;
    for (let i = from; i <= to; i++) out[order[i]] = (from + to) / 2;
    from = to + 1;
  }
  return out;
}
