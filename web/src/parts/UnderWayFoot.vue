<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { underWay } from '#web/api/under-way.ts'
import { useLive } from '#web/state/live.ts'

/** What takes longer than so many milliseconds is said, with how far it has come. */
const LONG = 1_000

const live = useLive()
const now = ref(Date.now())
const { pause, resume } = useIntervalFn(() => (now.value = Date.now()), 250, { immediate: false })
watch(underWay, (all, before) => {
  if (all.length) resume()
  else pause()
  // How far an earlier one came says nothing of this one.
  if (all[0] !== before[0]) live.progress = null
  now.value = Date.now()
})
const long = computed(() => underWay.value.find((each) => now.value - each.since > LONG) ?? null)
const share = computed(() =>
  live.progress ? Math.round((100 * live.progress.done) / live.progress.of) : null,
)
const many = (count: number) => count.toLocaleString('en-GB')
</script>

<template>
  <v-snackbar
    :model-value="long !== null"
    :timeout="-1"
    location="bottom left"
    :transition="false"
    color="#16241f"
  >
    <span role="status">
      <template v-if="live.progress">
        This is large, and takes a while. {{ many(live.progress.done) }} of
        {{ many(live.progress.of) }}
      </template>
      <template v-else>Waiting for an answer.</template>
    </span>
    <v-progress-linear
      class="how-far"
      aria-label="How far it has come"
      :indeterminate="share === null"
      :model-value="share ?? 0"
      color="#e6b422"
    />
    <!-- A change that is made in one go cannot be stopped any more. -->
    <template v-if="live.progress || long?.stops" #actions>
      <v-btn variant="text" color="#e6b422" @click="long?.stop()">Stop</v-btn>
    </template>
  </v-snackbar>
</template>

<style scoped>
.how-far {
  margin-top: 8px;
}
</style>
