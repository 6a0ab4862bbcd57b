import { type Look, type Placement, type Speck, STILL } from './camera/camera.ts';
import { passBird } from './radiance/bird.ts';
import type { RadianceCanvas } from './radiance/canvas.ts';
import { radianceOfObservatory } from './radiance/observatory/observatory.ts';
import { radianceOfTarn } from './radiance/tarn.ts';
import { radianceOfViaduct, VIADUCT_MINUTES } from './radiance/viaduct/viaduct.ts';

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
  look?: Look;
  dust?: readonly Speck[];
}

export interface DemoSet {
  name: string;
  title: string;
  /** Light of a shot, by its number. */
  radiance: (width: number, finer: number, progress: (share: number) => void, shot: number) => RadianceCanvas;
  /** The light changes between the shots. */
  moves: boolean;
  /** Paints what passes while a shot is taken; what it answers makes the light again what it was. */
  passing?: (canvas: RadianceCanvas, shot: number) => (() => void) | undefined;
  /** How far beyond the picture light is drawn at its sides, in widths, since the camera moves. */
  margin: number;
  shots: readonly DemoShot[];
}

const drift: readonly Placement[] = [
  { ...STILL, shiftX: 0.71, shiftY: -0.42, turnDegrees: 0.004 },
  { ...STILL, shiftX: -0.38, shiftY: 0.64, turnDegrees: -0.003 },
  STILL,
  { ...STILL, shiftX: 1.12, shiftY: 0.87, turnDegrees: 0.006 },
  { ...STILL, shiftX: -1.31, shiftY: 1.24, turnDegrees: -0.008 },
];

/** Tarn's second frame was taken through a breath of mist, and the camera thought the fourth one's light cooler than it was. */
const LOOKS: readonly (Look | undefined)[] = [
  undefined,
  { cast: [1, 1, 1], veil: { share: 0.005, light: [0.5, 0.52, 0.58] } },
  undefined,
  { cast: [1.06, 1, 0.93], veil: { share: 0, light: [0, 0, 0] } },
  undefined,
];

/** On Tarn's sensor: two specks in the sky, one in the water. */
const SPECKS: readonly Speck[] = [
  { u: 0.115, v: 0.2, radius: 12, depth: 0.16 },
  { u: 0.44, v: 0.08, radius: 10, depth: 0.12 },
  { u: 0.43, v: 0.765, radius: 11, depth: 0.18 },
];

/** Tarn: five frames two stops apart, a tripod on stony ground; the middle one stands where radiance was drawn. */
const TARN: DemoSet = {
  name: 'tarn',
  title: 'Tarn',
  radiance: radianceOfTarn,
  moves: false,
  margin: 0,
  passing: (canvas, shot) => (shot === 2 ? passBird(canvas, { x: 0.6, y: 0.2, half: 0.018, lift: 0.4 }) : undefined),
  shots: [-4, -2, 0, 2, 4].map((ev, index) => ({
    file: `tarn-${index + 1}`,
    ev,
    iso: 100,
    exposureTime: 2 ** (ev - 2),
    fNumber: 11,
    takenAt: `2025:10:12 06:41:${String(7 + index * 4).padStart(2, '0')}`,
    placement: drift[index],
    look: LOOKS[index],
    dust: SPECKS,
    seed: 1201 + index * 77,
  })),
};

/** Observatory: three frames three stops apart out of the hand; the middle one stands where radiance was drawn. */
const OBSERVATORY: DemoSet = {
  name: 'observatory',
  title: 'Observatory',
  radiance: radianceOfObservatory,
  moves: true,
  margin: 0.02,
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

/** Exposures of Viaduct's moments: the camera lets in more as dusk falls, though not as much as dusk takes; the last frame is
 * short, at a high ISO, for the lit dial of the clock. */
const VIADUCT_SHOTS = [
  { ev: 0.3, iso: 100 },
  { ev: 1, iso: 100 },
  { ev: 1.7, iso: 100 },
  { ev: 2.3, iso: 100 },
  { ev: 2.7, iso: 100 },
  { ev: 3, iso: 100 },
  { ev: 0.7, iso: 6400 },
];

/** Viaduct: six moments over fifty minutes from a tripod that sank a little, and a short frame. */
const VIADUCT: DemoSet = {
  name: 'viaduct',
  title: 'Viaduct',
  radiance: radianceOfViaduct,
  moves: true,
  margin: 0.02,
  shots: VIADUCT_SHOTS.map(({ ev, iso }, index) => {
    const minutes = VIADUCT_MINUTES[index];
    return {
      file: `viaduct-${index + 1}`,
      ev,
      iso,
      exposureTime: (2 ** ev * 100) / iso,
      fNumber: 11,
      takenAt: `2025:10:04 19:${String(minutes).padStart(2, '0')}:${String(12 + index * 3).padStart(2, '0')}`,
      placement: { ...STILL, shiftX: 0.06 * minutes - 0.4, shiftY: 0.045 * minutes, turnDegrees: 0.0005 * minutes },
      seed: 7103 + index * 83,
    };
  }),
};

/** The demo sets, by name. */
export const DEMO_SETS: readonly DemoSet[] = [TARN, OBSERVATORY, VIADUCT];
