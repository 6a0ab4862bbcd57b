<script setup lang="ts">
/** The camera card: its folders, and copying one of them with progress, whatever happens to the card meanwhile. */
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue';
import { PhFolderSimple, PhX } from '@phosphor-icons/vue';
import { computed, ref, shallowRef, watch } from 'vue';
import ProgressLine from '../ui/ProgressLine.vue';
import { sayBytes } from '../wording.ts';
import { type Card, CardError, type CardFolder, copyFile, readCard, switchCard } from './cardReader.ts';

const props = defineProps<{ open: boolean }>();
const emit = defineEmits<{ close: []; copied: [title: string, files: File[]] }>();

const card = shallowRef<Card>();
const looked = ref(false);
/** The folder that is being copied, or was when the card was pulled out. */
const folder = shallowRef<CardFolder>();
const copied = shallowRef<readonly File[]>([]);
const bytes = ref(0);
const trouble = ref('');
const stopper = shallowRef<AbortController>();

const total = computed(() => folder.value?.files.reduce((sum, file) => sum + file.bytes, 0) ?? 1);
const bytesOf = ({ files }: CardFolder) => files.reduce((sum, file) => sum + file.bytes, 0);

async function look(): Promise<void> {
  card.value = await readCard();
  looked.value = true;
}
watch(() => props.open, (open) => { if (open) void look(); });

/** Copies one file; one that breaks off while the card is in is copied once more. */
async function copyOne(from: CardFolder, name: string, { signal }: AbortController): Promise<File> {
  const before = bytes.value;
  const count = (more: number) => { bytes.value += more; };
  try {
    return await copyFile(from.name, name, signal, count);
  } catch (error) {
    await look();
    if (signal.aborted || !card.value?.inserted) throw error;
    bytes.value = before;
    return copyFile(from.name, name, signal, count);
  }
}

/** Copies what is left of a folder. */
async function copy(wanted: CardFolder): Promise<void> {
  if (folder.value?.name !== wanted.name) copied.value = [];
  folder.value = wanted;
  trouble.value = '';
  const stop = new AbortController();
  stopper.value = stop;
  try {
    while (copied.value.length < wanted.files.length) {
      const done = copied.value.reduce((sum, file) => sum + file.size, 0);
      bytes.value = done;
      const { name } = wanted.files[copied.value.length];
      copied.value = [...copied.value, await copyOne(wanted, name, stop)];
    }
    hand();
  } catch (error) {
    const pulled = (error as CardError).code === 'pulled-out';
    if (pulled) trouble.value = `The card was pulled out after ${copied.value.length} of ${wanted.files.length} frames. Put it back and go on; nothing that was copied is lost.`;
    else folder.value = undefined;
    await look();
  } finally {
    stopper.value = undefined;
  }
}

/** Hands over what was copied. */
function hand(): void {
  if (folder.value) emit('copied', folder.value.title, [...copied.value]);
  folder.value = undefined;
  copied.value = [];
  trouble.value = '';
}

async function toggle(): Promise<void> {
  await switchCard(!card.value?.inserted);
  await look();
}

function close(): void {
  stopper.value?.abort();
  emit('close');
}
</script>

<template>
  <Dialog :open="open" class="relative z-30" @close="close">
    <div class="fixed inset-0 bg-black/40" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-6">
      <DialogPanel class="flex max-h-full w-140 flex-col rounded-lg bg-panel p-6 text-ink">
        <div class="mb-3 flex items-start">
          <div>
            <DialogTitle class="text-[17px] font-semibold">Camera card</DialogTitle>
            <p class="text-soft">A stand-in for the card of a camera: it is read as fast as a real one.</p>
          </div>
          <button type="button" class="ml-auto rounded p-1.5 hover:bg-raised" aria-label="Close" @click="close"><PhX :size="16" /></button>
        </div>
        <p v-if="!looked" role="status">Reading the card…</p>
        <p v-else-if="!card" role="alert">There is no card reader here. Start Lusket with “npm run demo” to have one.</p>
        <template v-else>
          <p v-if="trouble" class="mb-3 rounded-md border-l-4 border-ink bg-sunken p-3" role="alert">
            {{ trouble }}
            <span class="mt-2 flex gap-2">
              <button type="button" class="btn h-7" :disabled="!card.inserted || !folder" @click="folder && copy(folder)">Continue</button>
              <button v-if="copied.length > 0" type="button" class="btn h-7" @click="hand">Take the {{ copied.length === 1 ? 'one' : copied.length }} that came</button>
            </span>
          </p>
          <p v-if="!card.inserted" class="py-6 text-center text-soft">No card in the reader.</p>
          <ul v-else class="flex flex-col gap-2 overflow-y-auto" aria-label="Folders on the card">
            <li v-for="each in card.folders" :key="each.name" class="flex items-center gap-3 rounded-md bg-sunken p-3">
              <PhFolderSimple :size="22" class="shrink-0 text-soft" />
              <div class="min-w-0 flex-1">
                <div class="font-semibold">{{ each.name }}</div>
                <div class="text-[12px] text-soft">{{ each.title }} · {{ each.files.length }} frames, {{ each.files[0]?.name }} to {{ each.files.at(-1)?.name }} · {{ sayBytes(bytesOf(each)) }}</div>
              </div>
              <button type="button" class="btn" :disabled="stopper !== undefined" @click="copy(each)">Copy</button>
            </li>
          </ul>
          <ProgressLine
            v-if="stopper && folder" class="mt-4" :text="`Copying ${folder.files[copied.length]?.name ?? ''}: ${copied.length} of ${folder.files.length} frames, ${sayBytes(bytes)} of ${sayBytes(total)}`"
            :share="bytes / total" stoppable @stop="stopper.abort()"
          />
          <div class="mt-5 flex items-center gap-3 border-t border-line pt-3 text-soft">
            <span class="min-w-0 flex-1 text-[12px]">To see what happens when something goes wrong:</span>
            <button type="button" class="btn h-7" @click="toggle">{{ card.inserted ? 'Pull the card out' : 'Put the card in' }}</button>
          </div>
        </template>
      </DialogPanel>
    </div>
  </Dialog>
</template>
