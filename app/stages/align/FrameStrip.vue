<script setup lang="ts">
/** The frames of the scene and how each lies, with what starts the search. */
import { PhLockSimple } from '@phosphor-icons/vue';
import { computed } from 'vue';
import type { Size } from '#core/raster/size.ts';
import type { FrameId } from '#core/ids.ts';
import type { Frame } from '#core/scene/frame.ts';
import TileThumb from '../../bench/TileThumb.vue';
import { frameLabel } from '../../frameLabel.ts';
import { usePlacing } from '../../stores/placing.ts';
import { useSession } from '../../stores/session.ts';
import { sayPlacement } from './sayPlacement.ts';

defineProps<{ size: Size }>();
const chosen = defineModel<FrameId | undefined>('chosen');
const session = useSession();
const placing = usePlacing();

const cards = computed(() => session.scene.frames.map((frame) => ({ frame, isBase: frame.id === session.scene.base, label: frameLabel(session.scene, frame.id), view: { show: { what: 'frame', at: frame.id } } as const })));
const others = computed(() => session.scene.frames.filter(({ id, choice }) => id !== session.scene.base && choice !== 'out'));

const progressOf = ({ id }: Frame) => placing.shares[id];
</script>

<template>
  <div class="flex h-36 shrink-0 bg-panel">
    <section class="flex min-w-0 flex-1 items-stretch gap-2 overflow-x-auto px-2 py-2" aria-label="Frames" data-skip="Frames" tabindex="-1">
      <button
        v-for="{ frame, isBase, label, view } in cards" :key="frame.id" type="button" class="flex w-36 shrink-0 flex-col rounded p-1.5 text-left"
        :class="frame.id === chosen ? 'bg-raised shadow-[inset_0_3px_0_var(--color-verdigris)]' : isBase ? 'cursor-default bg-sunken' : 'bg-sunken'" :aria-disabled="isBase" :aria-pressed="frame.id === chosen" :data-testid="`place-${frame.file.name}`" @click="isBase || (chosen = frame.id)"
      >
        <TileThumb :size="size" :view="view" :side="132" class="h-16 w-full rounded-sm" :label="label" />
        <span class="mt-1 flex w-full items-center justify-between gap-1 font-semibold"><span class="truncate">{{ label }}</span><PhLockSimple v-if="frame.locked" :size="13" aria-label="locked" /></span>
        <span v-if="isBase" class="text-[11px] text-soft">Base: the others are aligned to it</span>
        <span v-else-if="progressOf(frame) !== undefined" class="mt-1 block h-1 w-full rounded bg-panel" role="progressbar" :aria-valuenow="Math.round(progressOf(frame) * 100)"><span class="block h-full rounded bg-verdigris" :style="{ width: `${progressOf(frame) * 100}%` }" /></span>
        <span v-else class="text-[11px] leading-3.5 text-soft">{{ sayPlacement(frame, session.evidence.get(frame.id)) }}</span>
      </button>
    </section>
    <div class="flex w-80 shrink-0 flex-col justify-center gap-2 px-4">
      <template v-if="placing.isRunning">
        <p class="text-soft">Analysing {{ Object.keys(placing.shares).length }} frame{{ Object.keys(placing.shares).length === 1 ? '' : 's' }}…</p>
        <button type="button" class="btn justify-center" @click="placing.stop()">Stop</button>
      </template>
      <button v-else type="button" class="btn btn-main justify-center" :disabled="others.length === 0 || session.readOnly" @click="placing.align(others.map(({ id }) => id))">Align all frames</button>
    </div>
  </div>
</template>
