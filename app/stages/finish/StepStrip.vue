<script setup lang="ts">
/** The blend as one card, then the steps that finish it, in order. */
import { RadioGroup, RadioGroupOption } from '@headlessui/vue';
import { computed, nextTick, ref, watch } from 'vue';
import { deliveredPart } from '#core/finish/turning.ts';
import type { Size } from '#core/raster/size.ts';
import { isUpright } from '#core/scene/geometry.ts';
import { leavesOf } from '#core/scene/tree.ts';
import TileThumb from '../../bench/TileThumb.vue';
import { useBench } from '../../stores/bench.ts';
import { useSession } from '../../stores/session.ts';
import StackItems from '../blend/stack/StackItems.vue';
import AddStep from './AddStep.vue';
import { sayRatio } from './ratios.ts';
import ProofMenu from './ProofMenu.vue';
import SetMenu from './SetMenu.vue';

const props = defineProps<{ size: Size; atBlend: boolean }>();
const emit = defineEmits<{ blend: [] }>();
const session = useSession();
const bench = useBench();
const geometry = computed(() => session.scene.geometry);
const PARTS = computed(() => [
  { value: 'steps', label: 'Steps', fact: String(session.scene.finish.length || 'none yet'), hint: 'Light and colour above the blend (9)' },
  { value: 'spots', label: 'Spots', fact: String(session.scene.retouch.length || 'none yet'), hint: 'Small things removed from the blend (0)' },
  { value: 'turn', label: 'Turn and crop', fact: isUpright(geometry.value) && !geometry.value.crop ? 'as taken' : sayRatio(deliveredPart(geometry.value, props.size)), hint: 'Straighten, tilt, turn and crop (\\)' },
]);
/** However the step at hand was chosen, it comes into sight. */
const strip = ref<HTMLElement>();
watch(() => bench.state.layerId, async () => {
  await nextTick();
  strip.value?.querySelector('[data-chosen]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
}, { immediate: true });
const cards = computed(() => leavesOf(session.scene.stack).length);
const blend = { show: { what: 'blend' } } as const;
</script>

<template>
  <div class="flex items-stretch">
    <RadioGroup v-model="bench.finishing" as="div" class="flex w-27 shrink-0 flex-col justify-center gap-0.5 py-1.5 pl-2" aria-label="What is done">
      <RadioGroupOption v-for="each in PARTS" :key="each.value" v-slot="{ checked }" :value="each.value" as="template">
        <button type="button" class="rounded px-2 py-1 text-left transition-colors duration-100" :class="checked ? 'bg-raised font-semibold text-ink shadow-[inset_3px_0_0_var(--color-verdigris)]' : 'text-soft hover:bg-raised/60 hover:text-ink'" :title="each.hint">
          {{ each.label }}<span class="block text-[11px] font-normal leading-3.5 text-soft">{{ each.fact }}</span>
        </button>
      </RadioGroupOption>
    </RadioGroup>
    <section ref="strip" class="flex min-w-0 flex-1 items-stretch gap-2 overflow-x-auto scroll-px-2 px-2 py-1.5 [scrollbar-width:thin]" aria-label="The blend, and the steps above it" data-skip="Steps" tabindex="-1">
      <button type="button" class="flex w-31 shrink-0 flex-col rounded p-1.5 text-left" :class="atBlend ? 'bg-raised shadow-[inset_0_3px_0_var(--color-verdigris)]' : 'bg-sunken'" :aria-pressed="atBlend" title="The blend, below all steps" @click="emit('blend')">
        <TileThumb :size="size" :view="blend" :side="110" class="min-h-6 w-full flex-1 rounded-sm" label="The blend" />
        <span class="mt-1.5 font-semibold">The blend</span>
        <span class="text-[11px] text-soft">base and {{ cards }} card{{ cards === 1 ? '' : 's' }}<template v-if="session.scene.retouch.length > 0"> · {{ session.scene.retouch.length }} spot{{ session.scene.retouch.length === 1 ? '' : 's' }}</template></span>
      </button>
      <StackItems :items="session.scene.finish" :group="null" :size="size" />
    </section>
    <div class="flex flex-col gap-1.5 py-1.5 pr-2">
      <AddStep class="min-h-0 flex-1" :size="size" />
      <SetMenu />
      <ProofMenu />
    </div>
  </div>
</template>
