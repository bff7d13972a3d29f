<script setup lang="ts">
import { computed } from 'vue'
import type { PhaseRow } from '#contract/projects.ts'
import { sayMinutes } from '#web/parts/say.ts'

/** Progress by effort, a piece for each phase as wide as its effort. */
const props = defineProps<{ phases: readonly PhaseRow[]; progress: number; thin?: boolean }>()
const pieces = computed(() => props.phases.filter((p) => p.effort > 0))
const percent = computed(() => Math.round(props.progress * 100))
const each = computed(() =>
  pieces.value
    .map((p) => `${p.name}: ${Math.round((p.effortDone / p.effort) * 100)} per cent`)
    .join(', '),
)
</script>

<template>
  <div
    class="g"
    :class="{ thin }"
    role="img"
    :aria-label="`${percent} per cent of the effort is done. ${each}`"
  >
    <span
      v-for="p in pieces"
      :key="p.id"
      class="ph"
      :style="{ flexGrow: p.effort }"
      :data-tip="`${p.name}: ${sayMinutes(p.effortDone)} of ${sayMinutes(p.effort)}${p.late ? `, ${p.late} late` : ''}`"
    >
      <span class="track"><i :style="{ width: `${(p.effortDone / p.effort) * 100}%` }" /></span>
      <span v-if="!thin" class="nm" :class="{ alarm: p.late }">{{ p.name }}</span>
    </span>
    <b class="pc">{{ percent }} %</b>
  </div>
</template>

<style scoped>
.g {
  display: flex;
  gap: 3px;
  align-items: flex-start;
}
.ph {
  min-width: 26px;
  flex-basis: 0;
  overflow: hidden;
}
.track {
  display: flex;
  height: 8px;
  background: var(--track);
  border-radius: 1px;
}
.track i {
  background: var(--fern);
}
.nm {
  display: block;
  font-size: 11.5px;
  color: var(--ink-3);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.nm.alarm {
  color: var(--alarm);
}
.thin {
  align-items: center;
  height: 9px;
}
.thin .track {
  height: 5px;
}
.pc {
  font: 600 12px var(--sans);
  margin-left: 8px;
  line-height: 9px;
}
</style>
