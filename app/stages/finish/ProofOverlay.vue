<script setup lang="ts">
/** The picture as it will look elsewhere, over the canvas: what of it is seen, as fine as it is seen. It follows a moment after the hand rests. */
import { onBeforeUnmount, shallowRef, ref, watch, computed } from 'vue';
import { levelSize, type Region, type Size } from '#core/raster/size.ts';
import { DecodeError } from '#codecs/decodeError.ts';
import { Lane } from '#engine/lanes.ts';
import type { CanvasSpace } from '#engine/protocol.ts';
import { useResizeObserver } from '../../bench/useResizeObserver.ts';
import { levelSeen, type ViewTransform } from '../../bench/viewTransform.ts';
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

const REST_MS = 250;
const PITCH = 6;

const box = ref<HTMLCanvasElement>();
const extent = ref<Size>({ width: 1, height: 1 });
const shown = shallowRef<{ picture: OffscreenCanvas; outside: OffscreenCanvas; place: Region }>();
let timer: ReturnType<typeof setTimeout> | undefined;
let turn = 0;
/** The part that is seen, in pixels of the level that it is seen at; undefined when all of it lies outside. */
const part = computed<(Region & { level: number; whole: boolean }) | undefined>(() => {
  const { scale, offsetX, offsetY } = props.transform;
  const level = levelSeen(scale, props.size, extent.value);
  const whole = levelSize(props.size, level);
  const [step, { width, height }] = [scale * 2 ** level, extent.value];
  const [left, top] = [Math.max(0, Math.floor(-offsetX / step)), Math.max(0, Math.floor(-offsetY / step))];
  const [right, bottom] = [Math.min(whole.width, Math.ceil((width - offsetX) / step)), Math.min(whole.height, Math.ceil((height - offsetY) / step))];
  if (right <= left || bottom <= top) return undefined;
  const isWhole = right - left === whole.width && bottom - top === whole.height;
  return { level, x: left, y: top, width: right - left, height: bottom - top, whole: isWhole };
});

async function renew(): Promise<void> {
  const mine = ++turn;
  const { target, profile, intent, blackPoint } = proofing;
  const seen = part.value;
  if ((target === 'profile' && !profile) || !seen) return;
  try {
    const { engine, codec } = await engines.start();
    engine.advance(Lane.Proof);
    const { level, whole, x, y, width, height } = seen;
    const from = session.scene.workingSpace;
    const image = await engine.render({ what: 'result', turned: 'finished' }, props.size, { x, y, width, height }, from, () => undefined, { level, lane: Lane.Proof });
    if (!image || mine !== turn) return;
    const options = { from, target: target === 'profile' && profile ? { profile: profile.bytes } : { space: target as 'srgb' }, intent, blackPoint };
    const space = canvasSpaceOf(from);
    const proof = await codec.proof(image.buffer as SharedArrayBuffer, { width, height }, options, space);
    if (mine !== turn) return;
    proofing.outside = { share: proof.outside.reduce((sum, each) => sum + each, 0) / proof.outside.length, whole };
    const step = 2 ** level;
    const place = { x: x * step, y: y * step, width: width * step, height: height * step };
    shown.value = { picture: drawn(proof.rgba, width, height, space), outside: drawn(marked(proof.outside), width, height), place };
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

function drawn(data: Uint8ClampedArray<ArrayBuffer>, width: number, height: number, colorSpace: CanvasSpace = 'srgb'): OffscreenCanvas {
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d', { colorSpace })?.putImageData(new ImageData(data, width, height, { colorSpace }), 0, 0);
  return canvas;
}
/** Opaque where the target has not the colour. */
function marked(outside: Uint8Array): Uint8ClampedArray<ArrayBuffer> {
  const data = new Uint8ClampedArray(4 * outside.length);
  for (let i = 0; i < outside.length; i++) data[4 * i + 3] = 255 * outside[i];
  return data;
}

function draw(): void {
  const canvas = box.value;
  const context = canvas?.getContext('2d', { colorSpace: canvasSpaceOf(session.scene.workingSpace) });
  if (!canvas || !context) return;
  extent.value = { width: Math.max(1, Math.round(canvas.clientWidth * props.density)), height: Math.max(1, Math.round(canvas.clientHeight * props.density)) };
  Object.assign(canvas, extent.value);
  if (!shown.value) return;
  const { scale, offsetX, offsetY } = props.transform;
  const { x, y, width: wide, height: high } = shown.value.place;
  const place = [offsetX + x * scale, offsetY + y * scale, wide * scale, high * scale] as const;
  // As the canvas below draws it.
  context.imageSmoothingEnabled = scale < 2 && scale !== 1;
  context.imageSmoothingQuality = scale < 1 ? 'high' : 'medium';
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
watch([() => session.scene, () => proofing.target, () => proofing.profile, () => proofing.intent, () => proofing.blackPoint], renewSoon);
// Compared as text: a part that is worked out anew is often the same.
watch(() => JSON.stringify(part.value), renewSoon);
onBeforeUnmount(() => {
  turn++;
  clearTimeout(timer);
  engines.running?.engine.advance(Lane.Proof);
});
</script>

<template>
  <div class="pointer-events-none absolute inset-0">
    <canvas ref="box" class="h-full w-full" role="img" aria-label="Proof: the picture as it will look elsewhere" data-testid="proof" />
    <span class="absolute right-3 top-3 max-w-60 truncate rounded bg-panel/90 px-2 py-0.5 text-[12px]">{{ proofing.outside === undefined ? 'Looking…' : `As on ${proofing.name}` }}</span>
  </div>
</template>
