<script setup lang="ts">
/** What is done in Finish, and the brush or the view that it is done with. */
import { computed } from 'vue';
import type { Item } from '#core/scene/item.ts';
import { useBench } from '../../stores/bench.ts';
import { useFinish } from '../../stores/finish.ts';
import RuleSlider from '../../ui/RuleSlider.vue';
import ToolLine from '../blend/ToolLine.vue';

defineProps<{ scale: number; item?: Item; blinking?: 'layer' | 'before' }>();
const emit = defineEmits<{ full: []; blink: [what: 'layer' | 'before'] }>();
const bench = useBench();
const finish = useFinish();

const hint = computed(() => (bench.finishing === 'spots' ? 'Click a spot, or drag along it. Escape lets go of it.' : 'Drag the frame of the crop, or what is in it. Double click fits it again.'));
</script>

<template>
  <div class="flex shrink-0 items-stretch bg-panel">
    <ToolLine v-if="bench.finishing === 'steps'" class="min-w-0 flex-1" finish :scale="scale" :layer="item" :blinking="blinking" @full="emit('full')" @blink="emit('blink', $event)" />
    <div v-else class="flex h-14 flex-1 items-center gap-3 px-3">
      <template v-if="bench.finishing === 'spots'">
        <RuleSlider class="w-32" label="Width" unit="px" :value="finish.width" :min="4" :max="2000" :step="1" :usual="80" geometric @preview="finish.width = $event" @commit="finish.width = $event" />
        <RuleSlider class="w-28" label="Softness" unit="%" :shown="100" :value="finish.soft" :min="0" :max="1" :step="0.01" :usual="0.3" @preview="finish.soft = $event" @commit="finish.soft = $event" />
        <button type="button" class="btn h-7.5 px-2" :class="{ 'btn-main': finish.showsRelief }" :aria-pressed="finish.showsRelief" title="Grey, with strong local contrast: spots stand out" @click="finish.showsRelief = !finish.showsRelief">See spots</button>
      </template>
      <p class="min-w-0 truncate text-[12px] text-soft">{{ hint }}</p>
      <button type="button" class="btn ml-auto h-7.5 w-13 justify-center px-0" :aria-label="`${Math.round(scale * 100)} %: switch between fit and 100 %`" title="Switch between fit and 100 % (G)" @click="emit('full')">{{ Math.round(scale * 100) }} %</button>
    </div>
  </div>
</template>
