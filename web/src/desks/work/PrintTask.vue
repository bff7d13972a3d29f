<script setup lang="ts">
import { nextTick, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { TaskSheet } from '#contract/tasks.ts'
import { PRIORITY_NAMES } from '#contract/words.ts'
import { sayDate, sayDateAt, sayMinutes } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'

/** A task on paper. */
const route = useRoute()
const session = useSession()
const {
  data: task,
  error,
  reload,
} = useResource<TaskSheet>(
  () => `/tasks/${String(route.params['id'])}`,
  () => false,
)
const stop = watch(task, async (now) => {
  if (!now) return
  stop()
  await nextTick()
  window.print()
})
</script>

<template>
  <main class="paper">
    <LoadState v-if="!task" :error="error" @retry="reload" />
    <template v-else>
      <p class="quiet">
        #{{ task.id }} · {{ [task.client?.name, task.project?.name].filter(Boolean).join(' · ') }}
      </p>
      <h1>{{ task.title }}</h1>
      <v-table>
        <tbody>
          <tr>
            <th>State</th>
            <td>{{ task.stateName }}, {{ PRIORITY_NAMES[task.priority] }} priority</td>
          </tr>
          <tr>
            <th>Due</th>
            <td>
              {{ task.due ? sayDateAt(task.due, task.dueTime, session.saying) : 'no date'
              }}{{ task.start ? `, from ${sayDate(task.start, session.today)}` : '' }}
            </td>
          </tr>
          <tr>
            <th>On it</th>
            <td>{{ task.assignees.map((a) => a.name).join(', ') || 'nobody' }}</td>
          </tr>
          <tr v-if="task.estimate">
            <th>Estimate</th>
            <td>{{ sayMinutes(task.estimate) }}</td>
          </tr>
          <tr v-if="task.tags.length">
            <th>Tags</th>
            <td>{{ task.tags.map((t) => t.name).join(', ') }}</td>
          </tr>
        </tbody>
      </v-table>
      <!-- eslint-disable-next-line vue/no-v-html -- made safe by the server -->
      <div class="rich" v-html="task.description" />
      <template v-if="task.checklist.length">
        <h2 class="section">Checklist</h2>
        <p v-for="i in task.checklist" :key="i.id">{{ i.done ? '☑' : '☐' }} {{ i.title }}</p>
      </template>
      <template v-if="task.children.length">
        <h2 class="section">Subtasks</h2>
        <p v-for="c in task.children" :key="c.id">
          {{ c.closedAt ? '☑' : '☐' }}
          {{ c.due ? `${c.title}, ${sayDate(c.due, session.today)}` : c.title }}
        </p>
      </template>
      <template v-if="task.discussion.length">
        <h2 class="section">Comments</h2>
        <div v-for="c in task.discussion" :key="c.id" class="note">
          <div class="k">
            <span>{{ c.author?.name ?? 'Fernwick' }}</span>
            <span>{{ session.sayAt(c.at) }}</span>
          </div>
          <!-- eslint-disable-next-line vue/no-v-html -- made safe by the server -->
          <div class="rich" v-html="c.body" />
        </div>
      </template>
    </template>
  </main>
</template>

<style scoped>
.paper {
  max-width: 720px;
  margin: 0 auto;
  padding: 24px;
  background: var(--sheet);
}
th {
  width: 90px;
}
.rich {
  margin: 12px 0;
}
</style>
