<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '#web/state/session.ts'
import { initials } from './say.ts'

/** Somebody, small: their photo, or how their name begins. */
const props = defineProps<{ person: { id: number; name: string }; plain?: boolean }>()
const session = useSession()
const photo = computed(() => session.photos.get(props.person.id))
</script>

<template>
  <img
    v-if="photo"
    class="person"
    :class="{ plain }"
    :src="`/api/v1/people/${person.id}/photo?v=${photo}`"
    :alt="person.name"
  />
  <b
    v-else
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
  object-fit: cover;
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
