import type { Page } from 'playwright-core';
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
