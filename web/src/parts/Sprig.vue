<script setup lang="ts">
/** The mark of the house: a sprig of fern. */
defineProps<{ size: number }>()
</script>

<template>
  <svg :width="size" :height="size" viewBox="0 0 20 20" aria-hidden="true">
    <path d="M10 19V2" />
    <path d="M10 6c-2 0-4-1-5-3M10 6c2 0 4-1 5-3" />
    <path d="M10 10.5c-2.6 0-5-1-6.5-3.3M10 10.5c2.6 0 5-1 6.5-3.3" />
    <path d="M10 15c-3 0-6-1.2-7.5-3.7M10 15c3 0 6-1.2 7.5-3.7" />
  </svg>
</template>

<style scoped>
svg {
  fill: none;
  stroke: currentColor;
  stroke-width: 1.6;
  stroke-linecap: round;
}
</style>
