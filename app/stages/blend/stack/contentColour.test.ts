import { describe, expect, it } from 'vitest';
import { colourOfOklch, colourOfText, oklchOfColour, textOfColour } from './contentColour.ts';

describe('colours that are typed', () => {
  it.each([
    ['#ff8000', [1, 128 / 255, 0]],
    ['ff8000', [1, 128 / 255, 0]],
    ['hsl(120 100% 25%)', [0, 0.5, 0]],
    // The colour of the table in CSS Color Module Level 4, section 9.4, example of oklch() for pure red; from memory.
    ['oklch(62.8% 0.2577 29.23)', [1, 0, 0]],
  ] as const)('%s', (text, expected) => {
    const colour = colourOfText(text, 'srgb');
    for (const channel of [0, 1, 2]) expect(colour?.[channel]).toBeCloseTo(expected[channel], 2);
  });

  it('is none where it is not one', () => {
    expect(colourOfText('sky', 'srgb')).toBeUndefined();
    expect(colourOfText('', 'srgb')).toBeUndefined();
  });

  it.each(['srgb', 'bt2020'] as const)('comes back as text and by its parts in %s', (space) => {
    const text = '#3a7f6c';
    const colour = colourOfText(text, space) as [number, number, number];
    expect(textOfColour(colour, space)).toBe(text);
    const again = colourOfOklch(oklchOfColour(colour, space), space);
    for (const channel of [0, 1, 2]) expect(again[channel]).toBeCloseTo(colour[channel], 5);
  });

  it('is told by its parts where sRGB does not hold it', () => {
    expect(textOfColour([0, 1, 0], 'bt2020')).toMatch(/^oklch\(/);
  });
});
