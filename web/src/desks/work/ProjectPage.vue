<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ProjectView } from '#contract/views.ts'
import { post, sentence } from '#web/api/client.ts'
import { plural, sayDate, sayMinutes } from '#web/parts/say.ts'
import TaskLine from '#web/parts/TaskLine.vue'
import TaskSheet from '#web/parts/TaskSheet.vue'
import ViewState from '#web/parts/ViewState.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useView } from '#web/state/view.ts'

const session = useSession()
const messages = useMessages()
const route = useRoute()
const router = useRouter()
const id = computed(() => Number(route.params['id']))
const { data, error, reload } = useView<ProjectView>(() => (id.value ? `/projects/${id.value}` : null), (c) => c.projects.includes(id.value))
const opened = computed(() => Number(route.query['task']) || null)
const open = (task: number | null) => router.replace({ query: task ? { task: String(task) } : {} })
const sections = computed(() => [...(data.value?.phases ?? []), ...(data.value?.loose.length ? [{ id: 0, name: 'In no phase', tasks: data.value.loose }] : [])])
const adding = ref<Record<number, string>>({})
async function add(phaseId: number): Promise<void> {
  const title = (adding.value[phaseId] ?? '').trim()
  if (!title) return
  try {
    await post('/tasks', { title, projectId: id.value, phaseId: phaseId || null }, { once: crypto.randomUUID() })
    adding.value[phaseId] = ''
    await reload()
  } catch (problem) {
    messages.fault(sentence(problem))
  }
}
const effort = computed(() => sections.value.flatMap((s) => s.tasks).reduce((sum, t) => sum + (t.estimate ?? 0), 0))
</script>

<template>
  <main class="page">
    <div class="sheet">
      <ViewState v-if="!data" :error="error" @retry="reload" />
      <template v-else>
        <h1>{{ data.name }}</h1>
        <div class="sub">
          <span v-if="data.client">{{ data.client.name }}</span><span v-if="data.lead">led by {{ data.lead.name }}</span><span v-if="data.anchor">anchor {{ sayDate(data.anchor, session.today) }}</span>
          <span>{{ data.done }} of {{ data.done + data.open }} done, {{ sayMinutes(effort) }}</span><span v-if="data.late" class="alarm">{{ plural(data.late, 'task') }} late</span>
          <router-link v-if="data.template && session.me?.may.member" class="auto" :to="`/clockwork/templates/${data.template.id}`">{{ data.template.name }}, version {{ data.template.version }}</router-link>
          <router-link v-if="data.series && session.me?.may.member" class="auto" :to="`/clockwork/series/${data.series.id}`">from series</router-link>
        </div>
        <div class="gauge" role="img" :aria-label="`${Math.round(data.progress * 100)} per cent of the effort is done`"><i :style="{ width: `${data.progress * 100}%` }" /></div>
        <section v-for="phase in sections" :key="phase.id" :aria-label="phase.name">
          <h2 class="section">{{ phase.name }} <span>{{ phase.tasks.filter((t) => t.closedAt).length }} of {{ phase.tasks.length }} done</span></h2>
          <TaskLine v-for="task in phase.tasks" :key="task.id" :task="task" :place="false" @open="open" @changed="reload" />
          <form v-if="session.me?.may.member" class="quick" @submit.prevent="add(phase.id)"><input v-model="adding[phase.id]" class="inp" maxlength="200" placeholder="Add a task" :aria-label="`Add a task to ${phase.name}`" /></form>
        </section>
        <div v-if="!sections.length" class="empty"><h3>No tasks here</h3><p>This project was started from a template without tasks.</p></div>
      </template>
    </div>
    <aside class="margin" :aria-label="opened ? 'Task' : 'About the project'">
      <TaskSheet v-if="opened" :id="opened" @close="open(null)" @changed="reload" />
      <template v-else-if="data"><h3>About it</h3>
        <p class="note">{{ data.open ? `${plural(data.open, 'task')} open` : 'Everything is done' }}<template v-if="data.nextDue">, next due {{ sayDate(data.nextDue, session.today) }}</template>.</p>
        <p v-for="task in sections.flatMap((s) => s.tasks).filter((t) => !t.closedAt && !t.assignees.length)" :key="task.id" class="note"><button @click="open(task.id)"><b class="ochre">Open</b> {{ task.title }} has no owner{{ task.role ? `: nobody fills ${task.role}` : '' }}.</button></p>
        <p v-for="task in sections.flatMap((s) => s.tasks).filter((t) => t.late)" :key="`l${task.id}`" class="note"><button @click="open(task.id)"><b class="alarm">Late</b> {{ task.title }}, {{ plural(task.daysLate, 'working day') }}.</button></p>
      </template>
    </aside>
  </main>
</template>

<style scoped>
.gauge { display: flex; height: 9px; background: var(--track); border-radius: 1px; max-width: 520px; } .gauge i { background: var(--fern); } .quick { margin-top: 5px; max-width: 300px; } .quick .inp { border-color: transparent; background: none; } .quick .inp:hover, .quick .inp:focus { border-color: var(--rule-strong); background: var(--sheet); }
</style>
