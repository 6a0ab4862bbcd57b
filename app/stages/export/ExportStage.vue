<script setup lang="ts">
/** Export: the picture, its layers, masks and frames by presets, and the scene file that keeps everything. */
import { computed, onMounted } from 'vue';
import { deliveredPicture } from '#core/finish/delivered.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { useDeliveries } from '../../stores/deliveries.ts';
import { useSession } from '../../stores/session.ts';
import EmptyStage from '../../ui/EmptyStage.vue';
import DeliveryReport from './DeliveryReport.vue';
import ExportLine from './ExportLine.vue';
import LayersPane from './LayersPane.vue';
import PresetBench from './PresetBench.vue';
import PresetStrip from './PresetStrip.vue';
import PreviewPane from './PreviewPane.vue';
import SceneFileBench from './SceneFileBench.vue';
import WholePane from './WholePane.vue';

const session = useSession();
const deliveries = useDeliveries();
const size = computed(() => sceneSize(session.scene));
const delivered = computed(() => deliveredPicture(session.scene));

onMounted(() => {
  document.title = `${session.scene.name} · Export`;
  void deliveries.read();
});
</script>

<template>
  <EmptyStage v-if="!size || !delivered" text="There is nothing to export yet." />
  <div v-else class="flex h-full flex-col">
    <ExportLine />
    <div class="flex min-h-0 flex-1">
      <div class="relative flex min-w-0 flex-1 flex-col">
        <DeliveryReport v-if="deliveries.run" class="shrink-0" />
        <PreviewPane v-if="deliveries.preset?.what === 'picture'" :key="deliveries.preset.id" class="min-h-0 flex-1" :preset="deliveries.preset" :delivered="delivered" />
        <LayersPane v-else-if="deliveries.preset" class="min-h-0 flex-1" :preset="deliveries.preset" :size="size" />
        <WholePane v-else class="min-h-0 flex-1" :delivered="delivered" />
      </div>
      <PresetBench v-if="deliveries.preset" :key="deliveries.preset.id" :preset="deliveries.preset" :delivered="delivered" :size="size" />
      <SceneFileBench v-else />
    </div>
    <PresetStrip class="h-31 shrink-0 bg-panel" :delivered="delivered" />
  </div>
</template>
