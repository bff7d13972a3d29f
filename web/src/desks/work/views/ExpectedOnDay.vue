<script setup lang="ts">
import { computed } from 'vue'
import type { ExpectedWork } from '#contract/series.ts'
import LineMenu from '#web/parts/LineMenu.vue'
import { sayDate } from '#web/parts/say.ts'
import { useSession } from '#web/state/session.ts'

/** What series will make for a day: a hatched mark with how much it is, that names it all. */
const { work, day } = defineProps<{ work: readonly ExpectedWork[]; day: string }>()
const session = useSession()
const lines = computed(() =>
  work.map(({ title, client, series }) => ({
    name: client && !title.includes(client.name) ? `${title} (${client.name})` : title,
    to: `/clockwork/series/${series}`,
  })),
)
</script>

<template>
  <LineMenu :label="`Expected on ${sayDate(day, session.today)}`" :lines="lines">
    <template #default="{ props }">
      <v-btn
        v-bind="props"
        variant="plain"
        class="exp"
        tabindex="-1"
        :aria-label="`${work.length} expected on ${sayDate(day, session.today)}`"
        :data-tip="`Expected: ${lines.map(({ name }) => name).join(', ')}`"
      >
        <i class="hatch" />
        {{ work.length }}
      </v-btn>
    </template>
  </LineMenu>
</template>

<style scoped>
.exp {
  pointer-events: auto;
  flex: none;
  min-width: 0;
  font-size: 11.5px;
  color: var(--ink-3);
}
.exp :deep(.v-btn__content) {
  gap: 3px;
}
.hatch {
  flex: none;
  width: 12px;
  height: 10px;
  border: 1px solid var(--hatch);
  border-radius: 2px;
  background: repeating-linear-gradient(135deg, var(--hatch) 0 2px, transparent 2px 4px);
}
</style>
