<script setup lang="ts">
/** What files tell of a picture: how and where it was taken, and what its photographer says of it. */
import { computed } from 'vue';
import type { Preset } from '#codecs/deliver/preset.ts';
import { keywordsOf } from '#codecs/deliver/texts.ts';
import { useDeliveries } from '../../stores/deliveries.ts';
import { useSession } from '../../stores/session.ts';

const props = defineProps<{ preset: Preset }>();
const emit = defineEmits<{ change: [to: Partial<Preset>] }>();
const deliveries = useDeliveries();
const session = useSession();
const shotData = computed(() => props.preset.shotData);
const toggle = (name: keyof Preset['shotData']) => emit('change', { shotData: { ...shotData.value, [name]: !shotData.value[name] } });
const hasPlace = computed(() => session.scene.frames.find(({ id }) => id === session.scene.base)?.exif.GPSLatitude !== undefined);
const valueOf = (event: Event) => (event.target as HTMLInputElement).value;
const FIELDS = [
  { name: 'title', label: 'Title', most: 2000 },
  { name: 'creator', label: 'Creator', most: 500 },
  { name: 'rights', label: 'Rights', most: 2000 },
] as const;
</script>

<template>
  <section class="flex flex-col gap-1.5" aria-label="What the file tells">
    <h3 class="caption">What the file tells</h3>
    <label class="flex items-center gap-2"><input type="checkbox" class="accent-verdigris" :checked="shotData.camera" @change="toggle('camera')" /> How it was taken</label>
    <label class="flex items-center gap-2" :title="hasPlace ? '' : 'The base frame does not tell where it was taken'"><input type="checkbox" class="accent-verdigris" :checked="shotData.place" @change="toggle('place')" /> Where it was taken<span v-if="!hasPlace" class="text-soft">(not known)</span></label>
    <label class="flex items-center gap-2"><input type="checkbox" class="accent-verdigris" :checked="shotData.texts" @change="toggle('texts')" /> What I say of it</label>
    <details v-if="shotData.texts" class="rounded bg-sunken p-2" :open="deliveries.texts.title !== ''">
      <summary class="cursor-pointer text-soft">Title, caption, keywords, creator, rights</summary>
      <div class="flex flex-col gap-1.5 pt-2">
        <label v-for="{ name, label, most } in FIELDS" :key="name" class="grid grid-cols-[4.4rem_1fr] items-center gap-2"><span class="text-soft">{{ label }}</span><input type="text" class="field bg-panel" :maxlength="most" :value="deliveries.texts[name]" @change="deliveries.say({ [name]: valueOf($event) })" /></label>
        <label class="grid grid-cols-[4.4rem_1fr] items-start gap-2"><span class="pt-1 text-soft">Caption</span><textarea rows="3" class="field h-auto select-text bg-panel py-1" maxlength="20000" :value="deliveries.texts.caption" @change="deliveries.say({ caption: valueOf($event) })" /></label>
        <label class="grid grid-cols-[4.4rem_1fr] items-center gap-2"><span class="text-soft">Keywords</span><input type="text" class="field bg-panel" placeholder="commas between them" :value="deliveries.texts.keywords.join(', ')" @change="deliveries.say({ keywords: keywordsOf(valueOf($event)) })" /></label>
        <label class="flex items-center gap-2"><input type="checkbox" class="accent-verdigris" :checked="shotData.sidecar" @change="toggle('sidecar')" /> Also in an .xmp file beside it</label>
      </div>
    </details>
  </section>
</template>
