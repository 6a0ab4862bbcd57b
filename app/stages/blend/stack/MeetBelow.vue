<script setup lang="ts">
/** Exposes a layer so that along its seam it meets what lies below. */
import { computed, ref } from 'vue';
import { ItemId } from '#core/ids.ts';
import { exposeLayer } from '#core/scene/edits/stack.ts';
import type { Layer } from '#core/scene/item.ts';
import { itemLabel } from '../../../frameLabel.ts';
import { useNotices } from '../../../stores/notices.ts';
import { useSeams } from '../../../stores/seams.ts';
import { useSession } from '../../../stores/session.ts';
import { sayEv } from '../../../wording.ts';

const props = defineProps<{ layer: Layer }>();
const session = useSession();
const seams = useSeams();
const notices = useNotices();

/** What was clipped shifts what is measured: it is measured again so many times at most, until it is so close, in stops. */
const ROUNDS = 3;
const CLOSE = 0.02;
const isBusy = ref(false);
const label = computed(() => itemLabel(session.scene, props.layer));

async function meet(): Promise<void> {
  isBusy.value = true;
  const id = ItemId.parse(crypto.randomUUID());
  let stops = 0;
  try {
    for (let round = 0; round < ROUNDS; round++) {
      const found = await seams.measuredLayer(props.layer.id);
      if (!found) {
        if (round === 0) notices.tell(found === null ? 'Frames are still being read: try again in a moment.' : 'There is nothing to go by: along its seam the layer, or what lies below it, is blown or blocked.');
        break;
      }
      if (Math.abs(found.stops) < CLOSE && round > 0) break;
      stops -= found.stops;
      session.dispatch(exposeLayer({ layerId: props.layer.id, id, stops: Number(stops.toFixed(2)) }), 'meet');
    }
    session.closeDrag();
    if (stops !== 0) notices.tell(`${label.value} is exposed by ${sayEv(stops)} EV: along its seam it meets what lies below.`);
  } catch (error) {
    notices.tellError(error);
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <button type="button" class="btn mx-3 mb-1.5 h-7 self-start px-2" :disabled="isBusy || session.readOnly" title="Exposes this layer so that along its seam it is as bright as what lies below" :aria-label="`As bright as what lies below: ${label}`" @click="meet">{{ isBusy ? 'Measuring…' : 'As bright as what lies below' }}</button>
</template>
