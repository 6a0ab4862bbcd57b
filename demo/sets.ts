import type { Placement } from './camera/camera.ts';
import type { RadianceCanvas } from './radiance/canvas.ts';
import { radianceOfTarn } from './radiance/tarn.ts';

export interface DemoShot {
  file: string;
  ev: number;
  iso: number;
  exposureTime: number;
  fNumber: number;
  /** As EXIF writes it. */
  takenAt: string;
  placement: Placement;
  seed: number;
}

export interface DemoSet {
  name: string;
  title: string;
  radiance: (width: number, finer: number, progress: (share: number) => void) => RadianceCanvas;
  shots: readonly DemoShot[];
}

const drift: readonly Placement[] = [
  { shiftX: 0.71, shiftY: -0.42, turnDegrees: 0.004 },
  { shiftX: -0.38, shiftY: 0.64, turnDegrees: -0.003 },
  { shiftX: 0, shiftY: 0, turnDegrees: 0 },
  { shiftX: 1.12, shiftY: 0.87, turnDegrees: 0.006 },
  { shiftX: -1.31, shiftY: 1.24, turnDegrees: -0.008 },
];

/** Tarn: five frames two stops apart, a tripod on stony ground; the middle one stands where radiance was drawn. */
const TARN: DemoSet = {
  name: 'tarn',
  title: 'Tarn',
  radiance: radianceOfTarn,
  shots: [-4, -2, 0, 2, 4].map((ev, index) => ({
    file: `tarn-${index + 1}`,
    ev,
    iso: 100,
    exposureTime: 2 ** (ev - 2),
    fNumber: 11,
    takenAt: `2025:10:12 06:41:${String(7 + index * 4).padStart(2, '0')}`,
    placement: drift[index],
    seed: 1201 + index * 77,
  })),
};

/** The demo sets, by name. */
export const DEMO_SETS: readonly DemoSet[] = [TARN];
