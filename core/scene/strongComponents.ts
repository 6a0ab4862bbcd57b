/** Goes through a graph depth first, without recursion, and answers groups of vertices that all lead to each other (Tarjan 1972,
 * "Depth-first search and linear graph algorithms", section 4). A group comes after all that it leads to. */
export class StrongComponents {
  readonly #next: (key: string) => readonly string[];
  readonly #order = new Map<string, number>();
  readonly #low = new Map<string, number>();
  readonly #stack: string[] = [];
  readonly #onStack = new Set<string>();

  /** @param next - What a vertex leads to. */
  constructor(next: (key: string) => readonly string[]) {
    this.#next = next;
  }

  /** The groups that can be reached from a vertex, but for those that were answered before. */
  from(root: string): string[][] {
    const groups: string[][] = [];
    if (this.#order.has(root)) return groups;
    const path = [{ key: root, edges: this.#enter(root), at: 0 }];
    for (let top = path.at(-1); top; top = path.at(-1)) {
      const { key, edges } = top;
      if (top.at < edges.length) {
        const to = edges[top.at++];
        if (!this.#order.has(to)) path.push({ key: to, edges: this.#enter(to), at: 0 });
        else if (this.#onStack.has(to)) this.#lower(key, this.#order.get(to) as number);
        continue;
      }
      path.pop();
      const above = path.at(-1);
      if (above) this.#lower(above.key, this.#low.get(key) as number);
      if (this.#low.get(key) === this.#order.get(key)) groups.push(this.#take(key));
    }
    return groups;
  }

  #enter(key: string): readonly string[] {
    this.#low.set(key, this.#order.size);
    this.#order.set(key, this.#order.size);
    this.#stack.push(key);
    this.#onStack.add(key);
    return this.#next(key);
  }

  #lower(key: string, to: number): void {
    this.#low.set(key, Math.min(this.#low.get(key) as number, to));
  }

  #take(last: string): string[] {
    const group = this.#stack.splice(this.#stack.lastIndexOf(last));
    for (const key of group) this.#onStack.delete(key);
    return group;
  }
}
