<script setup lang="ts">
import { carrying } from './carry.ts'

/** What is being carried, at the pointer, with where it would be put down; said aloud too. */
</script>

<template>
  <div
    v-if="carrying"
    class="carried"
    :style="{ transform: `translate(${carrying.at.x + 12}px, ${carrying.at.y + 10}px)` }"
  >
    <b>{{ carrying.what.name }}</b>
    <span v-if="carrying.to">{{ carrying.to }}</span>
  </div>
  <p class="sr" role="status">
    <template v-if="carrying">
      {{ carrying.what.name }}, {{ carrying.to || 'not here' }}. Arrows choose where, Enter puts it
      down, Escape leaves it where it was.
    </template>
  </p>
</template>

<style scoped>
.carried {
  position: fixed;
  z-index: 3000;
  top: 0;
  left: 0;
  max-width: 340px;
  pointer-events: none;
  background: var(--bar);
  color: var(--bar-ink);
  border-radius: 3px;
  padding: 4px 10px;
  font: 12.5px/1.4 var(--sans);
  display: grid;
}
b {
  font-weight: 600;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
