<script setup lang="ts">
import { HEALTH_NAMES } from '#contract/words.ts'
import type { ProjectRow } from '#contract/desks.ts'

/**
 * How a project stands, with the reason on hover and to a screen reader; a shape as well as a
 * colour.
 */
defineProps<{ health: ProjectRow['health']; terse?: boolean }>()
</script>

<template>
  <span
    class="h"
    :class="health.value"
    :data-tip="`${health.reason} ${health.byHand ? 'Set by hand.' : 'Judged by its dates.'}`"
  >
    <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true">
      <path v-if="health.value === 'steady'" d="M1 6h10" stroke="currentColor" stroke-width="2.4" />
      <path
        v-else-if="health.value === 'watch'"
        d="M1 6c2-4 3-4 5 0s3 4 5 0"
        fill="none"
        stroke="currentColor"
        stroke-width="2"
      />
      <path v-else d="M1 3l3 6 3-7 4 8" fill="none" stroke="currentColor" stroke-width="2" />
    </svg>
    <span :class="{ sr: terse }">
      {{ HEALTH_NAMES[health.value] }}
      <span class="sr">{{ health.reason }}</span>
    </span>
  </span>
</template>

<style scoped>
.h {
  display: inline-flex;
  gap: 5px;
  align-items: center;
  font-size: 12.5px;
  font-weight: 550;
}
.steady {
  color: var(--fern);
}
.watch {
  color: var(--ochre);
}
.trouble {
  color: var(--alarm);
}
</style>
