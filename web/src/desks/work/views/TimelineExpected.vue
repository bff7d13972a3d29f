<script setup lang="ts">
import type { ExpectedWork } from '#contract/series.ts'
import { sayDate } from '#web/parts/say.ts'
import { daysBetween } from './span.ts'

/** What one series will make, as hatched bars: each leads to the series. */
const { work, px } = defineProps<{
  work: readonly ExpectedWork[]
  today: string
  /** Where a day begins, in pixels, and how wide one is. */
  x: (date: string) => number
  px: number
}>()
const widthOf = ({ start, due }: ExpectedWork) =>
  Math.max(9, (daysBetween(start ?? due, due) + 1) * px - 2)
</script>

<template>
  <div class="label" role="rowheader">
    <span class="quiet">Expected: {{ work[0]?.name }}</span>
  </div>
  <div class="lane" role="gridcell">
    <v-btn
      v-for="w in work"
      :key="`${w.scheduled} ${w.title} ${w.due}`"
      variant="plain"
      class="exp"
      tabindex="-1"
      :to="`/clockwork/series/${w.series}`"
      :aria-label="`Expected ${sayDate(w.due, today)}: ${w.title}`"
      :data-tip="`${w.title}, expected ${sayDate(w.due, today)}`"
      :style="{ left: `${x(w.start ?? w.due)}px`, width: `${widthOf(w)}px` }"
    />
  </div>
</template>

<style scoped>
.exp {
  position: absolute;
  top: 7px;
  height: 16px;
  min-width: 0;
  border: 1px solid var(--hatch);
  border-radius: 3px;
  background: repeating-linear-gradient(135deg, var(--hatch) 0 2px, transparent 2px 5px);
}
</style>
