<script setup lang="ts">
import { computed, useId } from 'vue'
import type { Group } from '#core/conditions/condition.ts'
import type { TaskRow } from '#contract/tasks.ts'
import LoadState from '#web/parts/LoadState.vue'
import { sayDateAt } from '#web/parts/say.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'

/** The first few open tasks of a client that something holds of, by due. */
const props = defineProps<{ client: number; title: string; filter: Group; none: string }>()
const session = useSession()
const id = useId()
const FEW = 6
const OPEN = { field: 'kind', op: 'not-in', value: ['done', 'dropped'] }
const path = computed(() => {
  const q = {
    scope: { of: 'client', id: props.client },
    filter: { match: 'all', of: [OPEN, props.filter] },
    sort: [{ field: 'due', down: false }],
  }
  return `/tasks?limit=${FEW}&q=${encodeURIComponent(JSON.stringify(q))}`
})
const { data, error, reload } = useResource<{ tasks: TaskRow[]; next: string | null }>(
  () => path.value,
  (c) => c.entities.some((entity) => entity.startsWith('task')),
  { keep: true },
)
</script>

<template>
  <section :aria-labelledby="id">
    <h2 :id="id" class="section">
      {{ title }}
      <span v-if="data?.next">the first {{ FEW }}</span>
    </h2>
    <LoadState v-if="!data" :error="error" @retry="reload" />
    <p v-else-if="!data.tasks.length" class="quiet">{{ none }}</p>
    <ul v-else>
      <li v-for="task in data.tasks" :key="task.id">
        <v-btn variant="plain" class="name" :to="`/work/client/${client}?task=${task.id}`">
          {{ task.title }}
        </v-btn>
        <span class="small quiet">
          {{ task.assignees.map((one) => one.name).join(', ') || 'nobody' }}
        </span>
        <span class="small" :class="task.late ? 'alarm' : 'quiet'">
          {{ task.due ? sayDateAt(task.due, task.dueTime, session.saying) : 'no date' }}
        </span>
      </li>
    </ul>
  </section>
</template>
