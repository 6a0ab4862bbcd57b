<script setup lang="ts">
/** The picture that a mask reads, and whether it is read as taken, so that developing moves no mask, or as developed. */
import { computed } from 'vue';
import { asDeveloped, asTaken, isDeveloped, mayBeDeveloped, type Source } from '#core/masks/source.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceField from '../../ui/ChoiceField.vue';
import { sourcesOf } from './partNames.ts';

const props = defineProps<{ label: string; value: Source; quiet?: boolean; prefix?: string }>();
const emit = defineEmits<{ choose: [source: Source] }>();
const session = useSession();
const sources = computed(() => sourcesOf(session.scene).map(({ value, label }) => ({ value, label: `${props.prefix ?? ''}${label}` })));
const developed = computed(() => isDeveloped(props.value));
const choose = (source: Source, isSo: boolean) => emit('choose', isSo ? asDeveloped(source) : source);
</script>

<template>
  <div class="flex min-w-0 items-center gap-1.5">
    <ChoiceField class="min-w-0 flex-1" :label="label" :quiet="quiet" :value="asTaken(value)" :choices="sources" @choose="choose($event, developed)" />
    <button
      v-if="mayBeDeveloped(value)" type="button" class="btn h-6.5 shrink-0 px-1.5 text-[11px]" :aria-pressed="developed" :aria-label="`${label}: read ${developed ? 'as developed' : 'as taken'}`"
      :title="developed ? 'Read as it is developed in Match: developing moves the mask. Click to read it as taken' : 'Read as it was taken: developing leaves the mask alone. Click to read it as developed'" @click="choose(asTaken(value), !developed)"
    >
      {{ developed ? 'developed' : 'as taken' }}
    </button>
  </div>
</template>
