import { type Placement, STILL } from './camera/camera.ts';
import type { RadianceCanvas } from './radiance/canvas.ts';
import { radianceOfObservatory } from './radiance/observatory/observatory.ts';
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
  /** Light of a shot, by its number. */
  radiance: (width: number, finer: number, progress: (share: number) => void, shot: number) => RadianceCanvas;
  /** The light changes between the shots. */
  moves: boolean;
  shots: readonly DemoShot[];
}

const drift: readonly Placement[] = [
  { ...STILL, shiftX: 0.71, shiftY: -0.42, turnDegrees: 0.004 },
  { ...STILL, shiftX: -0.38, shiftY: 0.64, turnDegrees: -0.003 },
  STILL,
  { ...STILL, shiftX: 1.12, shiftY: 0.87, turnDegrees: 0.006 },
  { ...STILL, shiftX: -1.31, shiftY: 1.24, turnDegrees: -0.008 },
];

/** Tarn: five frames two stops apart, a tripod on stony ground; the middle one stands where radiance was drawn. */
const TARN: DemoSet = {
  name: 'tarn',
  title: 'Tarn',
  radiance: radianceOfTarn,
  moves: false,
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

/** Observatory: three frames three stops apart out of the hand; the middle one stands where radiance was drawn. */
const OBSERVATORY: DemoSet = {
  name: 'observatory',
  title: 'Observatory',
  radiance: radianceOfObservatory,
  moves: true,
  shots: [
    {
      ev: -3,
      placement: { shiftX: 19.4, shiftY: -12.7, turnDegrees: 0.52, zoom: 0.0011, tiltX: 0.0006, tiltY: -0.0004 },
    },
    { ev: 0, placement: STILL },
    {
      ev: 3,
      placement: { shiftX: -14.2, shiftY: 16.3, turnDegrees: -0.7, zoom: -0.0008, tiltX: -0.0005, tiltY: 0.0007 },
    },
  ].map(({ ev, placement }, index) => ({
    file: `observatory-${index + 1}`,
    ev,
    iso: 200,
    exposureTime: 2 ** (ev - 8),
    fNumber: 8,
    takenAt: `2025:09:21 17:52:${String(31 + index).padStart(2, '0')}`,
    placement,
    seed: 4001 + index * 91,
  })),
};

/** The demo sets, by name. */
export const DEMO_SETS: readonly DemoSet[] = [TARN, OBSERVATORY];
