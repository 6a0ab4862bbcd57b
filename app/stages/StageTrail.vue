<script setup lang="ts">
/** The stages of the work down the left edge, each with its live fact, on the notched rule. */
import { PhArrowUUpLeft, PhArrowUUpRight, PhQuestion, PhSun } from '@phosphor-icons/vue';
import { computed } from 'vue';
import { ROOMS, useRoom } from '../useRoom.ts';
import HistoryList from './HistoryList.vue';
import { deliveredPart } from '#core/finish/turning.ts';
import { isUpright } from '#core/scene/geometry.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { layersOf, showsSomething } from '#core/scene/tree.ts';
import { sayRatio } from './finish/ratios.ts';
import { useChecks } from '../stores/checks.ts';
import { useDeliveries } from '../stores/deliveries.ts';
import { useSeams } from '../stores/seams.ts';
import { useSession } from '../stores/session.ts';

const emit = defineEmits<{ help: [] }>();
const session = useSession();
const room = useRoom();

const shown = computed(() => layersOf(session.scene).filter((layer) => layer.visible && showsSomething(layer)).length);
/** How far off the frames are that were found, at most; or how many still want looking at. */
const alignFact = computed(() => {
  const placed = session.scene.frames.flatMap(({ id, placement }) => {
    const found = session.evidence.get(id)?.found;
    return (found?.verdict === 'failed' && placement?.model !== 'hand' ? found : placement) ?? [];
  });
  if (placed.length === 0) return 'not yet';
  const doubtful = placed.filter(({ verdict }) => verdict === 'look' || verdict === 'failed').length;
  if (doubtful > 0) return `${doubtful} to review`;
  return `${Math.max(...placed.map(({ residualPx }) => residualPx ?? 0)).toFixed(1)} px`;
});
const checks = useChecks();
const deliveries = useDeliveries();
const seams = useSeams();
/** Between which two neighbours a seam has most to hide. */
const matchFact = computed(() => (seams.farthest === undefined ? 'not measured' : `${seams.farthest.toFixed(1)} EV apart`));
/** The ratio of the picture where it is cut or turned; else how much is done to it. */
const finishFact = computed(() => {
  const { finish, retouch, geometry } = session.scene;
  const size = sceneSize(session.scene);
  if (size && (geometry.crop || !isUpright(geometry))) return sayRatio(deliveredPart(geometry, size));
  if (finish.length > 0) return count(finish.length, 'step');
  return retouch.length > 0 ? count(retouch.length, 'spot') : 'as blended';
});
const stages = computed(() => [
  { name: 'gather', label: 'Gather', fact: count(session.scene.frames.length, 'frame') },
  { name: 'align', label: 'Align', fact: alignFact.value },
  { name: 'match', label: 'Match', fact: matchFact.value },
  { name: 'blend', label: 'Blend', fact: shown.value === 0 ? 'base alone' : `${count(shown.value, 'layer')} shown${checks.openInBlend > 0 ? `, ${checks.openInBlend} to visit` : ''}` },
  { name: 'finish', label: 'Finish', fact: finishFact.value },
  { name: 'export', label: 'Export', fact: count(deliveries.together.length, 'preset') },
]);

function count(n: number, noun: string): string {
  return `${n} ${noun}${n === 1 ? '' : 's'}`;
}

function nextRoom(): void {
  const index = ROOMS.findIndex(({ value }) => value === room.value);
  room.value = ROOMS[(index + 1) % ROOMS.length].value;
}
</script>

<template>
  <nav class="flex w-27 shrink-0 flex-col bg-panel" aria-label="Stages">
    <RouterLink to="/" class="block px-3.5 pb-5 pt-3 text-[15px] font-bold tracking-tight text-ink hover:text-verdigris" title="All scenes">Lusket</RouterLink>
    <ol class="relative">
      <div class="absolute bottom-2 left-3.5 top-2 w-px bg-soft opacity-60" aria-hidden="true" />
      <li v-for="stage in stages" :key="stage.name">
        <RouterLink v-slot="{ isActive, href, navigate }" :to="{ name: stage.name }" custom>
          <a :href="href" class="relative block py-2.5 pl-7 pr-1" :aria-current="isActive ? 'step' : undefined" @click="navigate">
            <span class="absolute left-3.5 top-4.5 h-px bg-soft" :class="isActive ? 'w-0' : 'w-1.5'" aria-hidden="true" />
            <span v-if="isActive" class="absolute left-2.5 top-4 h-1.5 w-3 rounded-sm bg-verdigris" aria-hidden="true" />
            <span class="block leading-4.5" :class="isActive ? 'font-semibold text-ink' : 'text-ink'">{{ stage.label }}</span>
            <span class="block text-[11px] leading-3.5 text-soft">{{ stage.fact }}</span>
          </a>
        </RouterLink>
      </li>
    </ol>
    <div class="mt-auto flex flex-col items-start gap-0.5 p-2">
      <div class="flex">
        <button type="button" class="rounded p-1.5 hover:bg-raised" :disabled="!session.canUndo" aria-label="Undo" title="Undo (Ctrl Z)" @click="session.undo()"><PhArrowUUpLeft :size="17" /></button>
        <button type="button" class="rounded p-1.5 hover:bg-raised" :disabled="!session.canRedo" aria-label="Redo" title="Redo (Ctrl Shift Z)" @click="session.redo()"><PhArrowUUpRight :size="17" /></button>
      </div>
      <div class="flex">
        <HistoryList />
        <button type="button" class="rounded p-1.5 hover:bg-raised" aria-label="Keys and gestures" title="Keys and gestures (?)" @click="emit('help')"><PhQuestion :size="17" /></button>
      </div>
      <button type="button" class="flex items-center gap-1.5 whitespace-nowrap rounded p-1.5 text-soft hover:bg-raised" title="Greys around the picture" @click="nextRoom">
        <PhSun :size="15" /> {{ ROOMS.find(({ value }) => value === room)?.label }} room
      </button>
      <span class="px-1.5 text-[11px] text-soft" data-testid="saved">{{ session.gone ? 'Not saved' : session.saved ? 'Saved' : 'Saving…' }}</span>
    </div>
  </nav>
</template>
