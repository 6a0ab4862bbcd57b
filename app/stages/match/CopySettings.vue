<script setup lang="ts">
/** Asks which settings of a frame others are to have, and which others. */
import { computed, ref } from 'vue';
import type { AdjustmentName } from '#core/develop/list.ts';
import type { Frame } from '#core/scene/frame.ts';
import DialogBox from '../../ui/DialogBox.vue';
import { frameLabel } from '../../frameLabel.ts';
import { useSession } from '../../stores/session.ts';
import { GROUPS, NOT_LIGHT } from '../../develop/adjustmentWords.ts';

const props = defineProps<{ from: string; frames: readonly Frame[] }>();
const emit = defineEmits<{ close: []; copy: [names: readonly AdjustmentName[], to: readonly Frame[]] }>();
const session = useSession();

const groups = ref<string[]>([...NOT_LIGHT]);
const targets = ref<string[]>(props.frames.map(({ id }) => id));
const names = computed(() => GROUPS.filter(({ name }) => groups.value.includes(name)).flatMap(({ adjustments }) => adjustments.map(({ name }) => name)));
const to = computed(() => props.frames.filter(({ id }) => targets.value.includes(id)));
</script>

<template>
  <DialogBox :title="`Copy settings of ${from}`" @close="emit('close')">
    <fieldset class="flex flex-col gap-1">
      <legend class="caption mb-1">Settings</legend>
      <label v-for="group in GROUPS" :key="group.name" class="flex items-center gap-2"><input v-model="groups" type="checkbox" class="accent-verdigris" :value="group.name" /> {{ group.name }}</label>
      <div class="mt-1 flex gap-1.5">
        <button type="button" class="btn h-7 px-2" @click="groups = GROUPS.map(({ name }) => name)">Everything</button>
        <button type="button" class="btn h-7 px-2" @click="groups = [...NOT_LIGHT]">Everything but light</button>
      </div>
    </fieldset>
    <fieldset class="flex flex-col gap-1">
      <legend class="caption mb-1">To</legend>
      <label v-for="frame in frames" :key="frame.id" class="flex items-center gap-2"><input v-model="targets" type="checkbox" class="accent-verdigris" :value="frame.id" /> {{ frameLabel(session.scene, frame.id) }}<span v-if="frame.id === session.scene.base" class="text-soft">base</span></label>
    </fieldset>
    <div class="flex justify-end gap-2">
      <button type="button" class="btn" @click="emit('close')">Cancel</button>
      <button type="button" class="btn btn-main" :disabled="names.length === 0 || to.length === 0" @click="emit('copy', names, to)">Copy to {{ to.length }} frame{{ to.length === 1 ? '' : 's' }}</button>
    </div>
  </DialogBox>
</template>
