<script setup lang="ts">
import { initials } from './say.ts'

defineProps<{ person: { id: number; name: string }; plain?: boolean }>()
</script>

<template>
  <b
    class="person"
    :class="[plain ? 'plain' : person.id % 2 ? 'fern' : 'heather']"
    role="img"
    :aria-label="person.name"
  >
    {{ initials(person.name) }}
  </b>
</template>

<style scoped>
.person {
  width: 24px;
  height: 24px;
  border-radius: 50%;
  display: inline-grid;
  place-items: center;
  font: 600 10px var(--sans);
  flex: none;
  border: 1px solid transparent;
}
.person + .person {
  margin-left: -6px;
}
.fern {
  background: var(--fern-wash);
  color: var(--fern);
  border-color: color-mix(in srgb, var(--fern) 25%, transparent);
}
.heather {
  background: var(--heather-wash);
  color: var(--heather);
  border-color: color-mix(in srgb, var(--heather) 25%, transparent);
}
.plain {
  width: 28px;
  height: 28px;
  background: #eef1ee;
  color: #16241f;
  font-size: 11px;
}
</style>
