<script setup lang="ts">
/** How much of a whole is done, 0 to 1, as a bar. */
defineProps<{ progress: number }>()
</script>

<template>
  <span class="gauge" role="img" :aria-label="`${Math.round(progress * 100)} per cent`">
    <i :style="{ width: `${progress * 100}%` }" />
  </span>
</template>

<style scoped>
.gauge {
  display: inline-flex;
  width: 110px;
  height: 7px;
  background: var(--track);
  border-radius: 1px;
  vertical-align: 1px;
  margin-right: 8px;
}
.gauge i {
  background: var(--fern);
}
@media (max-width: 900px) {
  .gauge {
    width: 56px;
  }
}
</style>
