<script setup lang="ts">
import type { DataTableHeader } from 'vuetify'
import type { ProjectRow } from '#contract/desks.ts'
import type { Health } from '#contract/words.ts'
import { WIDE } from '#web/parts/columns.ts'
import { plural, sayDate } from '#web/parts/say.ts'
import { useSession } from '#web/state/session.ts'
import HealthMark from './HealthMark.vue'
import ProgressGauge from './ProgressGauge.vue'

/** Projects as rows: whose they are, how they stand, what is next. */
defineProps<{ rows: readonly ProjectRow[]; label: string }>()
const session = useSession()
/** How they stand, the worst first. */
const WORST: readonly Health[] = ['trouble', 'watch', 'steady']
const deadlineOf = (p: ProjectRow) => (p.anchorIs === 'deadline' && p.anchor) || ''
/** By what is empty, rows come last. */
const COLUMNS: DataTableHeader<ProjectRow>[] = [
  { title: 'Project', key: 'name' },
  { title: 'Client', key: 'client', value: (p) => p.client?.short ?? '', ...WIDE },
  { title: 'Lead', key: 'lead', value: (p) => p.lead?.name ?? '', ...WIDE },
  { title: 'Stands', key: 'stands', value: (p) => WORST.indexOf(p.health.value) },
  { title: 'Progress', key: 'progress' },
  { title: 'Next due', key: 'due', value: (p) => p.nextDue ?? '~' },
  { title: 'Deadline', key: 'deadline', value: (p) => deadlineOf(p) || '~', ...WIDE },
]
</script>

<template>
  <v-data-table :headers="COLUMNS" :items="rows" :aria-label="label">
    <template #[`item.name`]="{ item: p }">
      <v-btn variant="plain" :to="`/work/${p.id}`" class="name">{{ p.name }}</v-btn>
      <span v-if="p.audience !== 'firm' && session.me?.may.member" class="tint c-heather">
        {{ p.audience === 'named' ? 'for those named' : 'for its team' }}
      </span>
      <v-btn
        variant="plain"
        v-if="p.series && session.me?.may.member"
        class="auto"
        :to="`/clockwork/series/${p.series.id}`"
      >
        from series
      </v-btn>
    </template>
    <template #[`item.stands`]="{ item: p }"><HealthMark :health="p.health" /></template>
    <template #[`item.progress`]="{ item: p }">
      <ProgressGauge :progress="p.progress" />
      <span class="small quiet of">{{ p.done }} of {{ p.done + p.open }}</span>
    </template>
    <template #[`item.due`]="{ item: p }">
      <span v-if="p.nextDue" :class="{ alarm: p.late }">
        {{ sayDate(p.nextDue, session.today) }}
      </span>
      <span v-if="p.late" class="small alarm">
        {{ ` · ${plural(p.late, 'late task')}` }}
      </span>
    </template>
    <template #[`item.deadline`]="{ item: p }">
      {{ deadlineOf(p) && sayDate(deadlineOf(p), session.today) }}
    </template>
  </v-data-table>
</template>

<style scoped>
.of {
  white-space: nowrap;
}
.name {
  font-weight: 550;
  margin-right: 8px;
}
.name:hover {
  text-decoration: underline;
}
</style>
