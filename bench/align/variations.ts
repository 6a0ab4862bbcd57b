import alea from 'alea';
import type { RadianceCanvas } from '../../demo/radiance/canvas.ts';
import { type AlignSet, misty, moved } from './sets.ts';

/** A set made up at random: any motion of a hand or a tripod, up to six stops, noise, things that moved, mist. */
export function variation(seed: number): AlignSet {
  const random = alea(`variation ${seed}`);
  const between = (from: number, to: number) => from + (to - from) * random();
  const tripod = random() < 0.35;
  const reach = tripod ? 2 : 60;
  const placement = {
    shiftX: between(-reach, reach),
    shiftY: between(-reach, reach),
    turnDegrees: tripod ? between(-0.02, 0.02) : between(-1.5, 1.5),
    zoom: tripod ? 0 : between(-0.012, 0.012),
    tiltX: tripod ? 0 : between(-0.001, 0.001),
    tiltY: tripod ? 0 : between(-0.001, 0.001),
  };
  const ev = between(-6, 6);
  const change =
    random() < 0.4 ? moved(between(0.05, 0.5), Math.round(between(-30, 30)), Math.round(between(0, 20))) : undefined;
  const hazy = random() < 0.15;
  return {
    name: `variation ${seed}`,
    asks: 'fair',
    base: { ev: between(-1, 1) },
    frame: { ev, iso: 100 * 2 ** between(0, 7), placement },
    ...(change && { change: (light: RadianceCanvas) => change(light) }),
    ...(hazy && { scene: misty }),
  };
}
