<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ProjectSheet, Resuming } from '#contract/projects.ts'
import { post } from '#web/api/client.ts'
import LoadState from '#web/parts/LoadState.vue'
import { plural, sayDate } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'

/** Resumes a project on hold: shows how its dates would move, and moves them or leaves them. */
const { project } = defineProps<{ project: ProjectSheet }>()
const emit = defineEmits<{ done: []; close: [] }>()
const session = useSession()
const messages = useMessages()
const { wrong, busy, attempt } = useAttempt('here')
const { data, error, reload } = useResource<Resuming>(() => `/projects/${project.id}/resume`)
const shift = ref(true)
const day = (date: string) => sayDate(date, session.today)
const rows = computed(() => {
  const { tasks = [], milestones = [], anchor = null } = data.value ?? {}
  return [
    ...(anchor ? [{ name: 'The project’s date', ...anchor }] : []),
    ...milestones,
    ...tasks.map(({ title, from, to }) => ({ name: title, from, to })),
  ]
})
const resume = () =>
  attempt(async () => {
    const done = await post<ProjectSheet>(`/projects/${project.id}/resume`, { shift: shift.value })
    messages.did('The project runs again.', done)
    emit('done')
  })
</script>

<template>
  <v-dialog
    :model-value="true"
    max-width="560"
    aria-label="Resume the project"
    @update:model-value="emit('close')"
  >
    <form class="dialog" @submit.prevent="resume">
      <h3>Resume {{ project.name }}</h3>
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <template v-else>
        <p>
          On hold since {{ day(data.heldOn) }}:
          {{ data.days ? `${plural(data.days, 'working day')} were lost.` : 'no day was lost.' }}
        </p>
        <v-checkbox
          v-if="data.days"
          v-model="shift"
          :label="`Move its dates on by ${plural(data.days, 'working day')}`"
        />
        <v-table v-if="data.days && shift" density="compact">
          <thead>
            <tr>
              <th>What moves</th>
              <th>From</th>
              <th>To</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, i) in rows" :key="i">
              <td>{{ row.name }}</td>
              <td class="quiet">{{ day(row.from) }}</td>
              <td>{{ day(row.to) }}</td>
            </tr>
          </tbody>
        </v-table>
        <p v-if="data.days && shift && data.count > data.tasks.length" class="small quiet">
          and {{ plural(data.count - data.tasks.length, 'more task') }}
        </p>
      </template>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <div class="btns">
        <v-btn type="submit" variant="flat" :disabled="!data || busy">Resume it</v-btn>
        <v-btn @click="emit('close')">Leave it</v-btn>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.btns {
  margin-top: 12px;
}
</style>
