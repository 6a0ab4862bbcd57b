<script setup lang="ts">
/** In which mode an item is laid: a board of small pictures of what each would make, in columns by what they do. Arrow keys go through them, each
 * shown at once on the canvas; Enter or a click outside takes it, Escape gives it up. */
import { computed, nextTick, onBeforeUnmount, ref } from 'vue';
import { onClickOutside } from './onClickOutside.ts';
import { setItem } from '#core/scene/edits/items.ts';
import { MODE_GROUPS, type ModeName } from '#core/modes/list.ts';
import type { Size } from '#core/raster/size.ts';
import type { Item } from '#core/scene/item.ts';
import TileThumb from '../../../bench/TileThumb.vue';
import { useSession } from '../../../stores/session.ts';
import { MODE_COLUMNS } from './modeWords.ts';

const props = defineProps<{ item: Item; size: Size; label: string }>();
const session = useSession();

const isOpen = ref(false);
const button = ref<HTMLButtonElement>();
const board = ref<HTMLElement>();
const place = ref({ right: 0, top: 0 });

async function open(): Promise<void> {
  const { left, top } = (button.value as HTMLElement).getBoundingClientRect();
  place.value = { right: window.innerWidth - left + 12, top: Math.min(top, window.innerHeight - 420) };
  isOpen.value = true;
  await nextTick();
  focusOn(props.item.mode);
}
function focusOn(mode: ModeName): void {
  board.value?.querySelector<HTMLElement>(`[data-mode="${mode}"]`)?.focus({ preventScroll: true });
}
function close(): void {
  if (!isOpen.value) return;
  session.closeDrag();
  isOpen.value = false;
  button.value?.focus();
}
function giveUp(): void {
  session.cancelDrag();
  isOpen.value = false;
  button.value?.focus();
}
const show = (mode: ModeName) => session.dispatch(setItem({ id: props.item.id, change: { mode } }), 'mode');
function take(mode: ModeName): void {
  show(mode);
  close();
}

const columns = MODE_COLUMNS.map(({ title, groups }) => ({ title, modes: groups.flatMap((group) => [...MODE_GROUPS[group]]) }));
const views = computed(() => Object.fromEntries(columns.flatMap(({ modes }) => modes.map((mode) => [mode, { show: { what: 'tried', at: props.item.id, as: { mode } } } as const]))));
/** Up and down within a column, left and right to the next. */
async function step(event: KeyboardEvent, column: number, row: number): Promise<void> {
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (!way) return;
  event.preventDefault();
  const to = columns[Math.min(columns.length - 1, Math.max(0, column + way[0]))];
  const mode = to.modes[Math.min(to.modes.length - 1, Math.max(0, row + way[1]))];
  show(mode);
  await nextTick();
  focusOn(mode);
}
onClickOutside(board, (event) => { if (!button.value?.contains(event.target as Node)) close(); });
onBeforeUnmount(() => { if (isOpen.value) session.closeDrag(); });
</script>

<template>
  <button
    ref="button" type="button" class="btn h-7 w-full justify-between px-2" aria-haspopup="true" :aria-expanded="isOpen" :aria-label="`Mode of ${label}: ${item.mode}`" title="How it meets what lies below (7 and 8 step through)" @click="isOpen ? close() : open()"
  >
    <span class="text-soft">Laid in</span><span class="truncate font-semibold">{{ item.mode }}</span>
  </button>
  <div
    v-if="isOpen" ref="board" class="fixed z-30 flex gap-3 rounded bg-raised p-3 shadow-xl" role="radiogroup" :aria-label="`Modes of ${label}`" data-testid="mode-board" :style="{ right: `${place.right}px`, top: `${place.top}px` }"
    @keydown.esc.stop="giveUp" @keydown.enter.prevent.stop="close"
  >
    <div v-for="({ title, modes }, column) in columns" :key="title" class="flex w-22 flex-col gap-1.5">
      <h3 class="caption">{{ title }}</h3>
      <button
        v-for="(mode, row) in modes" :key="mode" type="button" role="radio" :aria-label="mode" :data-mode="mode" :aria-checked="mode === item.mode" :tabindex="mode === item.mode ? 0 : -1" class="rounded p-0.5 text-left outline-offset-0"
        :class="mode === item.mode ? 'bg-panel shadow-[inset_0_-2px_0_var(--color-verdigris)]' : 'hover:bg-panel/60'" @click="take(mode)" @keydown="step($event, column, row)"
      >
        <TileThumb :size="size" :view="views[mode]" :side="84" class="h-11 w-full rounded-sm" :label="`As ${mode}`" />
        <span class="block truncate px-0.5 text-[11px]" :class="mode === item.mode ? 'font-semibold' : 'text-soft'">{{ mode }}</span>
      </button>
    </div>
  </div>
</template>
