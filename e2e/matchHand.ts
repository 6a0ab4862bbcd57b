import type { Page } from 'playwright-core';
import { expect } from 'vitest';
import type { Visit } from './harness.ts';

/** What a hand does in Match again and again. */
export function matchHand(visit: Visit) {
  const field = (label: string) => visit.page.getByLabel(`${label}, typed`, { exact: true });
  return {
    /** Waits until the line says how many frames are developed. */
    fact: (text: string) =>
      visit.page
        .getByTestId('developed')
        .filter({ hasText: new RegExp(`^${text}$`) })
        .waitFor(),
    /** Undoes until all frames are as they were taken. Presses of a key are one step or several, by how quick the machine is. */
    undoAll: async () => {
      const told = visit.page.getByTestId('developed');
      for (let i = 0; i < 40 && (await told.textContent()) !== 'as taken'; i++) {
        await visit.page.keyboard.press('Control+z');
        await visit.page.waitForTimeout(50);
      }
      expect(await told.textContent()).toBe('as taken');
    },
    toStage: (name: string) => visit.page.getByRole('link', { name: new RegExp(`^${name}`) }).click(),
    exposeOf: (n: number) => visit.page.getByTestId(`expose-tarn-${n}.jpg`),
    type: async (label: string, value: number) => {
      await field(label).first().fill(String(value));
      await field(label).first().press('Enter');
    },
    typedOf: async (label: string) => Number(await field(label).inputValue()),
    /** Opens what the panel has folded away. */
    openAll: (page: Page) =>
      page.getByLabel(/^Settings of/).evaluate((panel) => {
        for (const each of panel.querySelectorAll('details')) each.open = true;
      }),
  };
}
