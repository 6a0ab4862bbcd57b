<script setup lang="ts">
/** The picture as it will look elsewhere, over the canvas; it follows a moment after the hand rests. */
import { onBeforeUnmount, onMounted, shallowRef, ref, watch, computed } from 'vue';
import { betweenSpaces } from '#core/color/workingSpace.ts';
import { decodeSrgb, encodeSrgb } from '#core/color/srgb.ts';
import { times3 } from '#core/raster/matrix3.ts';
import { levelCount, levelForScale, levelSize, type Size } from '#core/raster/size.ts';
import { DecodeError } from '#codecs/decodeError.ts';
import { Lane } from '#engine/lanes.ts';
import { useResizeObserver } from '../../bench/useResizeObserver.ts';
import type { ViewTransform } from '../../bench/viewTransform.ts';
import { canvasSpaceOf } from '../../drawing/canvasSpace.ts';
import { useEngine } from '../../stores/engine.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import { useProofing } from './proofing.ts';

const props = defineProps<{ size: Size; transform: ViewTransform; density: number }>();
const session = useSession();
const engines = useEngine();
const notices = useNotices();
const proofing = useProofing();

/** Longest side that is looked at, in pixels. */
const SIDE = 1400;
const REST_MS = 250;
const PITCH = 6;

const box = ref<HTMLCanvasElement>();
const shown = shallowRef<{ picture: OffscreenCanvas; outside: OffscreenCanvas }>();
let timer: ReturnType<typeof setTimeout> | undefined;
let turn = 0;
const level = computed(() => levelForScale(SIDE / Math.max(props.size.width, props.size.height), levelCount(props.size)));

async function renew(): Promise<void> {
  const mine = ++turn;
  const { target, profile, intent, blackPoint } = proofing;
  if (target === 'profile' && !profile) return;
  try {
    const { engine, codec } = await engines.start();
    engine.advance(Lane.Proof);
    const { width, height } = levelSize(props.size, level.value);
    const from = session.scene.workingSpace;
    const image = await engine.render({ what: 'result', turned: 'finished' }, props.size, { x: 0, y: 0, width, height }, from, () => undefined, { level: level.value, lane: Lane.Proof });
    if (!image || mine !== turn) return;
    const options = { from, target: target === 'profile' && profile ? { profile: profile.bytes } : { space: target as 'srgb' }, intent, blackPoint };
    const proof = await codec.proof(image.buffer as SharedArrayBuffer, { width, height }, options);
    if (mine !== turn) return;
    proofing.outside = proof.outside.reduce((sum, each) => sum + each, 0) / proof.outside.length;
    shown.value = { picture: drawn(proof.image, width, height), outside: marked(proof.outside, width, height) };
  } catch (error) {
    if (mine !== turn) return;
    shown.value = undefined;
    proofing.isOn = false;
    if (error instanceof DecodeError && error.code === 'unsupported') notices.tell(`This profile cannot show a picture: ${error.detail}. Choose another.`, { tone: 'error' });
    else notices.tellError(error);
  }
}
function renewSoon(): void {
  proofing.outside = undefined;
  clearTimeout(timer);
  timer = setTimeout(() => void renew(), REST_MS);
}

/** Samples of the working space on a canvas of the space that pictures are drawn in. */
function drawn(image: Uint16Array, width: number, height: number): OffscreenCanvas {
  const space = canvasSpaceOf(session.scene.workingSpace);
  const canvas = new OffscreenCanvas(width, height);
  const data = new ImageData(width, height, { colorSpace: space });
  const from = session.scene.workingSpace;
  const matrix = from === space ? undefined : betweenSpaces(from, space);
  for (let i = 0, to = 0; i < image.length; i += 3, to += 4) {
    const rgb = [image[i], image[i + 1], image[i + 2]].map((value) => value / 65535);
    const out = matrix ? times3(matrix, rgb.map(decodeSrgb)).map((value) => encodeSrgb(Math.min(1, Math.max(0, value)))) : rgb;
    data.data.set([255 * out[0], 255 * out[1], 255 * out[2], 255], to);
  }
  canvas.getContext('2d', { colorSpace: space })?.putImageData(data, 0, 0);
  return canvas;
}
function marked(outside: Uint8Array, width: number, height: number): OffscreenCanvas {
  const canvas = new OffscreenCanvas(width, height);
  const data = new ImageData(width, height);
  for (const [i, is] of outside.entries()) if (is) data.data[4 * i + 3] = 255;
  canvas.getContext('2d')?.putImageData(data, 0, 0);
  return canvas;
}

function draw(): void {
  const canvas = box.value;
  const context = canvas?.getContext('2d', { colorSpace: canvasSpaceOf(session.scene.workingSpace) });
  if (!canvas || !context) return;
  Object.assign(canvas, { width: Math.max(1, Math.round(canvas.clientWidth * props.density)), height: Math.max(1, Math.round(canvas.clientHeight * props.density)) });
  if (!shown.value) return;
  const { scale, offsetX, offsetY } = props.transform;
  const place = [offsetX, offsetY, props.size.width * scale, props.size.height * scale] as const;
  context.drawImage(shown.value.picture, ...place);
  if (!proofing.hatches) return;
  const { width, height } = canvas;
  const layer = new OffscreenCanvas(width, height);
  const drawing = layer.getContext('2d');
  if (!drawing) return;
  drawing.drawImage(shown.value.outside, ...place);
  drawing.globalCompositeOperation = 'source-in';
  drawing.fillStyle = '#8a8f8d';
  drawing.fillRect(0, 0, width, height);
  drawing.globalCompositeOperation = 'source-atop';
  drawing.strokeStyle = '#10211e';
  drawing.lineWidth = 1.5;
  drawing.beginPath();
  for (let at = -height; at < width + height; at += PITCH) {
    drawing.moveTo(at, 0);
    drawing.lineTo(at + height, height);
  }
  drawing.stroke();
  context.drawImage(layer, 0, 0);
}

useResizeObserver(box, draw);
watch([() => props.transform, shown, () => proofing.hatches], draw);
watch([() => session.scene, () => proofing.target, () => proofing.profile, () => proofing.intent, () => proofing.blackPoint, level], renewSoon);
onMounted(() => void renew());
onBeforeUnmount(() => {
  turn++;
  clearTimeout(timer);
  engines.running?.engine.advance(Lane.Proof);
});
</script>

<template>
  <canvas ref="box" class="pointer-events-none absolute inset-0 h-full w-full" role="img" aria-label="Proof: the picture as it will look elsewhere" data-testid="proof" />
</template>
