<script setup lang="ts">
import type { RoundCell, RoundDate } from '#contract/series.ts'
import { sayDate } from '#web/parts/say.ts'
import { useSession } from '#web/state/session.ts'
import StandMark from './StandMark.vue'
import { keyOf } from './round.ts'
import { sayStood } from './went.ts'

/** What one kind of work for one client has in a period. */
const { brief } = defineProps<{
  cell: RoundCell
  /** Whose it is, and what. */
  about: string
  marked: ReadonlySet<string>
  lit: string | null
  brief: boolean
}>()
const emit = defineEmits<{ press: [date: RoundDate, event: MouseEvent] }>()
const session = useSession()
const day = (date: string) => sayDate(date, session.today)
const short = (date: string) => (brief ? day(date).split(' ').slice(0, 2).join(' ') : day(date))
</script>

<template>
  <v-btn
    v-for="d in cell.dates"
    :key="keyOf(d)"
    variant="plain"
    class="date"
    :class="{ marked: marked.has(keyOf(d)), faint: lit && lit !== d.stand }"
    :aria-label="`${about}, ${sayStood(d, session.today)}`"
    aria-haspopup="menu"
    :title="sayStood(d, session.today)"
    @click="emit('press', d, $event)"
  >
    <StandMark :stand="d.stand" />
    {{ short(d.date) }}
  </v-btn>
  <span v-if="!cell.dates.length" class="small quiet">
    {{ cell.next ? `next ${day(cell.next)}` : 'not due' }}
  </span>
</template>

<style scoped>
.date {
  margin: 0 8px 2px 0;
  padding: 2px 5px;
  border-radius: 4px;
  white-space: nowrap;
}
.date:hover {
  background: var(--rest);
}
.marked {
  outline: 2px solid var(--dusk);
  background: var(--dusk-wash);
}
.faint {
  opacity: 0.35;
}
.date :deep(.v-btn__content) {
  gap: 6px;
}
</style>
