<script setup lang="ts">
import { computed } from 'vue'
import LineMenu from '#web/parts/LineMenu.vue'
import { useSession } from '#web/state/session.ts'

/** Other clients that a new series is made for as well, each as a series of its own. */
const also = defineModel<readonly number[]>({ required: true })
const { but } = defineProps<{ but: number | null }>()
const session = useSession()
const others = computed(() => session.directory.clients.filter(({ id }) => id !== but))
const lines = computed(() =>
  others.value.map(({ id, short }) => ({
    name: short,
    on: also.value.includes(id),
    run: () =>
      (also.value = also.value.includes(id)
        ? also.value.filter((one) => one !== id)
        : [...also.value, id]),
  })),
)
const names = computed(
  () =>
    others.value
      .filter(({ id }) => also.value.includes(id))
      .map(({ short }) => short)
      .join(', ') || 'nobody else',
)
</script>

<template>
  <p v-if="others.length" class="line">
    As a series of its own also for
    <LineMenu label="Also for" several :lines="lines">
      <template #default="{ props }">
        <v-btn v-bind="props">{{ names }}</v-btn>
      </template>
    </LineMenu>
  </p>
</template>

<style scoped>
.line {
  margin: 10px 0;
}
</style>
