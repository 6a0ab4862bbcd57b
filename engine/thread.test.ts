import { expect, it } from 'vitest';
import type { ThreadStart } from './kernelModule.ts';
import type { Port } from './protocol.ts';
import { Thread } from './thread.ts';

interface Answer {
  type: string;
  ticket?: number;
}

it('that is replaced while it ends is replaced once, after it has ended', async () => {
  let live = 0;
  let most = 0;
  let spawned = 0;
  const spawn = (): Port<Answer, unknown> => {
    spawned++;
    most = Math.max(most, ++live);
    let take: (message: Answer) => void = () => undefined;
    return {
      post: () => void setTimeout(() => take({ type: 'ready' }), 2),
      onMessage: (taker) => {
        take = taker;
      },
      onFailure: () => undefined,
      close: async () => {
        await new Promise((resolve) => setTimeout(resolve, 20));
        live--;
      },
    };
  };
  const thread = new Thread<unknown, Answer>({ spawn, start: {} as ThreadStart });
  for (let round = 1; round <= 12; round++) {
    for (let again = 0; again < 3; again++) thread.replace('cancelled', 'on purpose');
    await thread.ready();
    expect([live, spawned]).toEqual([1, 1 + round]);
  }
  expect(most).toBe(1);
  thread.end();
});
