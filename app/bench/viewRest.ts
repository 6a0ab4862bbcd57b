/** Whether the large picture is being drawn: what is small beside it waits until it rests. */
let drawing = 0;
const waiting = new Set<() => void>();

/** Says that a large picture is being drawn. Each call is followed by one of {@link endView}. */
export function beginView(): void {
  drawing++;
}

export function endView(): void {
  if (--drawing > 0) return;
  for (const go of [...waiting]) go();
}

/** Resolves once no large picture is being drawn, or after so many milliseconds. */
export function viewRest(mostMs: number): Promise<void> {
  if (drawing === 0) return Promise.resolve();
  return new Promise((resolve) => {
    const go = () => {
      clearTimeout(timer);
      waiting.delete(go);
      resolve();
    };
    const timer = setTimeout(go, mostMs);
    waiting.add(go);
  });
}
