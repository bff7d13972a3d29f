<script setup lang="ts">
import { mdiClose } from '@mdi/js'
import { computed, ref, watch } from 'vue'
import { STATE_LIST, PRIORITY_LIST } from './choices.ts'
import type { ActivityRow, TaskPatch, TaskSheet } from '#contract/tasks.ts'
import { ApiProblem, get, patch, post, remove, sentence } from '#web/api/client.ts'
import { onChange } from '#web/state/live.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import DateField from './DateField.vue'
import Glyph from './Glyph.vue'
import { sayDate, sayInstant, sayState } from './say.ts'
import TokenPick from './TokenPick.vue'
import ViewState from './ViewState.vue'

/** One task, opened in the margin: everything about it, saved field by field as it is left. */
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ close: []; changed: [] }>()
const session = useSession()
const messages = useMessages()
const task = ref<TaskSheet | null>(null)
const activity = ref<ActivityRow[]>([])
const error = ref<string | null>(null)
const wrong = ref<{ place: string; text: string } | null>(null)
/** What is being typed, by field, and the version it started from. */
const draft = ref<{ title?: string; description?: string; estimate?: string }>({})
const seen = ref(0)
const comment = ref('')
const item = ref('')
const tab = ref<'talk' | 'journal'>('talk')
const clash = ref<{ mine: TaskPatch; theirs: TaskSheet } | null>(null)

async function read(): Promise<void> {
  try {
    const found = await get<TaskSheet>(`/tasks/${props.id}`)
    task.value = found
    // While something is being typed its base stays: saving then finds out whether anyone came in between.
    if (Object.keys(draft.value).length === 0) seen.value = found.version
    activity.value = await get<ActivityRow[]>(`/tasks/${props.id}/activity`)
    error.value = null
  } catch (problem) {
    error.value = sentence(problem)
  }
}
watch(() => props.id, () => {
  task.value = null
  draft.value = {}
  wrong.value = clash.value = null
  void read()
}, { immediate: true })
onChange((c) => {
  if (c.tasks.includes(props.id) || c.entities.includes('all')) void read()
})

function took(found: TaskSheet): void {
  task.value = found
  seen.value = found.version
  emit('changed')
  void get<ActivityRow[]>(`/tasks/${props.id}/activity`).then((rows) => (activity.value = rows), () => undefined)
}

async function save(edit: TaskPatch, version = seen.value): Promise<boolean> {
  wrong.value = null
  try {
    took(await patch<TaskSheet>(`/tasks/${props.id}`, edit, { seen: version }))
    return true
  } catch (problem) {
    if (problem instanceof ApiProblem && problem.problem.status === 412 && problem.problem.theirs) {
      const theirs = problem.problem.theirs as TaskSheet
      const shown = task.value as unknown as Record<string, unknown>
      const base: Record<string, unknown> = { ...shown, ...baseOf.value }
      // Somebody changed something else: both edits stand.
      if (Object.keys(edit).every((f) => JSON.stringify(plain(f, base[f])) === JSON.stringify(plain(f, (theirs as unknown as Record<string, unknown>)[f])))) return save(edit, theirs.version)
      clash.value = { mine: edit, theirs }
    } else wrong.value = { place: problem instanceof ApiProblem ? (problem.problem.place ?? '') : '', text: sentence(problem) }
    return false
  }
}
const plain = (field: string, value: unknown) => (field === 'assignees' ? (value as { id: number }[]).map((p) => p.id ?? p) : value)

/** The fields as they were when typing began. */
const baseOf = ref<Partial<TaskSheet>>({})
function begin(field: 'title' | 'description' | 'estimate', value: string): void {
  if (Object.keys(draft.value).length === 0 && task.value) {
    seen.value = task.value.version
    baseOf.value = { title: task.value.title, description: task.value.description, estimate: task.value.estimate }
  }
  draft.value[field] = value
}
async function leave(field: 'title' | 'description' | 'estimate'): Promise<void> {
  const value = draft.value[field]
  if (value === undefined || !task.value) return
  const edit: TaskPatch = field === 'estimate' ? { estimate: value.trim() === '' ? null : Number(value) } : { [field]: value.trim() }
  if (JSON.stringify(Object.values(edit)[0]) === JSON.stringify(baseOf.value[field])) {
    delete draft.value[field]
    return
  }
  if (await save(edit)) {
    delete draft.value[field]
    baseOf.value = {}
  }
}
async function settle(keep: 'mine' | 'theirs'): Promise<void> {
  const both = clash.value
  if (!both) return
  clash.value = null
  draft.value = {}
  baseOf.value = {}
  if (keep === 'mine') await save(both.mine, both.theirs.version)
  else took(both.theirs)
}

async function step(work: () => Promise<TaskSheet>): Promise<boolean> {
  try {
    took(await work())
    return true
  } catch (problem) {
    messages.fault(sentence(problem))
    return false
  }
}
async function addItem(): Promise<void> {
  const title = item.value.trim()
  if (title && (await step(() => post(`/tasks/${props.id}/items`, { title })))) item.value = ''
}
async function say(): Promise<void> {
  const body = comment.value.trim()
  if (body && (await step(() => post(`/tasks/${props.id}/comments`, { body })))) comment.value = ''
}
const assigned = computed(() => task.value?.assignees.map((a) => a.id) ?? [])
const toggle = (id: number) => save({ assignees: assigned.value.includes(id) ? assigned.value.filter((x) => x !== id) : [...assigned.value, id] })
const show = (field: string, value: unknown): string => {
  if (field === 'assignees') return ((value ?? []) as (number | { id: number; name: string })[]).map((p) => (typeof p === 'number' ? (session.directory.people.find((x) => x.id === p)?.name ?? p) : p.name)).join(', ') || 'nobody'
  if (field === 'state') return sayState(String(value))
  if (value === null || value === '') return 'none'
  return field === 'due' || field === 'start' ? sayDate(String(value), session.today) : String(value)
}
</script>

<template>
  <section class="tasksheet" aria-label="Task" @keydown.esc="emit('close')">
    <div class="head">
      <span class="quiet small">#{{ id }}<template v-if="task?.project"> · <router-link :to="`/work/${task.project.id}`">{{ task.project.name }}</router-link></template><template v-else-if="task?.client"> · {{ task.client.name }}</template></span>
      <button class="x" aria-label="Close the task" @click="emit('close')"><Glyph :path="mdiClose" /></button>
    </div>
    <ViewState v-if="!task" :error="error" @retry="read" />
    <template v-else>
      <textarea class="title inp" rows="1" aria-label="Title" :readonly="!task.may.edit" :value="draft.title ?? task.title" maxlength="200" @input="begin('title', ($event.target as HTMLTextAreaElement).value)" @blur="leave('title')" @keydown.enter.prevent="($event.target as HTMLElement).blur()" />
      <p v-if="wrong" class="wrong" role="alert">{{ wrong.text }}</p>
      <p class="line">
        <TokenPick :model-value="task.state" :options="STATE_LIST" label="State" @update:model-value="save({ state: $event })" />
        <TokenPick :model-value="task.priority" :options="PRIORITY_LIST" label="Priority" tone="value" :disabled="!task.may.edit" @update:model-value="save({ priority: $event })" />
        <span v-if="task.late" class="alarm small">{{ task.daysLate }} working {{ task.daysLate === 1 ? 'day' : 'days' }} late</span>
      </p>
      <p v-if="session.me?.may.structure && !task.series" class="small"><router-link class="btn flat" :to="`/clockwork/series/new?fromTask=${task.id}`">Make a series of it</router-link></p>
      <p v-else-if="task.series" class="small"><router-link class="auto" :to="`/clockwork/series/${task.series.id}`">from the series “{{ task.series.name }}”</router-link></p>
      <p v-if="task.rung" class="small"><router-link class="auto" :to="`/clockwork/log?task=${task.id}`">Rung {{ task.rung.at }} of {{ task.rung.of }}, “{{ task.rung.rule }}”: why?</router-link></p>
      <div class="grid">
        <label for="ts-due">Due{{ task.due ? ` ${sayDate(task.due).slice(0, 3)}` : '' }}</label>
        <span class="when"><DateField id="ts-due" terse :model-value="task.due" :disabled="!task.may.edit" @update:model-value="save({ due: $event })" /><input class="inp time" type="time" aria-label="Due time" :value="task.dueTime ?? ''" :disabled="!task.may.edit || !task.due" @change="save({ dueTime: ($event.target as HTMLInputElement).value || null })" /></span>
        <label for="ts-start">Start</label>
        <DateField id="ts-start" :model-value="task.start" :disabled="!task.may.edit" @update:model-value="save({ start: $event })" />
        <label for="ts-est">Estimate</label>
        <span><input id="ts-est" class="inp num" type="number" min="0" max="60000" :readonly="!task.may.edit" :value="draft.estimate ?? task.estimate ?? ''" @input="begin('estimate', ($event.target as HTMLInputElement).value)" @blur="leave('estimate')" @keydown.enter="($event.target as HTMLElement).blur()" /> minutes</span>
        <span class="lab">On it</span>
        <v-menu :close-on-content-click="false" :disabled="!task.may.edit">
          <template #activator="{ props: menu }"><button v-bind="menu" class="people" :class="{ ochre: !task.assignees.length }" :aria-label="`On it: ${show('assignees', task.assignees)}`">{{ task.assignees.map((a) => a.name).join(', ') || (task.role ? `nobody fills ${task.role}` : 'nobody') }}</button></template>
          <div class="menu"><button v-for="p in session.active" :key="p.id" :class="{ on: assigned.includes(p.id) }" :aria-pressed="assigned.includes(p.id)" @click="toggle(p.id)">{{ assigned.includes(p.id) ? '✓ ' : '' }}{{ p.name }}</button></div>
        </v-menu>
      </div>
      <textarea class="inp" rows="3" aria-label="Description" placeholder="What it is about, and what done looks like" :readonly="!task.may.edit" :value="draft.description ?? task.description" @input="begin('description', ($event.target as HTMLTextAreaElement).value)" @blur="leave('description')" />
      <h4 class="section">Checklist <span v-if="task.items.length">{{ task.checklist.done }} of {{ task.checklist.of }}</span></h4>
      <ul class="items">
        <li v-for="each in task.items" :key="each.id">
          <input :id="`item-${each.id}`" type="checkbox" :checked="each.done" @change="step(() => patch(`/tasks/${id}/items/${each.id}`, { done: !each.done }))" /><label :for="`item-${each.id}`" :class="{ ticked: each.done }">{{ each.title }}</label>
          <button v-if="task.may.edit" class="x" :aria-label="`Remove ${each.title}`" @click="step(() => remove(`/tasks/${id}/items/${each.id}`))"><Glyph :path="mdiClose" :size="14" /></button>
        </li>
      </ul>
      <form v-if="task.may.edit" @submit.prevent="addItem"><input v-model="item" class="inp" aria-label="Add to the checklist" placeholder="Add a step, press Enter" maxlength="200" /></form>
      <div class="tabs" role="tablist">
        <button role="tab" :aria-selected="tab === 'talk'" @click="tab = 'talk'">Comments {{ task.comments.length || '' }}</button>
        <button role="tab" :aria-selected="tab === 'journal'" @click="tab = 'journal'">Journal</button>
      </div>
      <template v-if="tab === 'talk'">
        <div v-for="c in task.comments" :key="c.id" class="note"><div class="k"><span>{{ c.author?.name ?? 'Fernwick' }}</span><span>{{ sayInstant(c.at, session.today, session.me!.zone) }}</span></div><p class="body">{{ c.body }}</p></div>
        <form class="say" @submit.prevent="say"><textarea v-model="comment" class="inp" rows="2" aria-label="Comment" placeholder="Write to everyone on this task" maxlength="10000" @keydown.ctrl.enter="say" /><button class="btn" :disabled="!comment.trim()">Comment</button></form>
      </template>
      <template v-else>
        <div v-for="a in activity" :key="a.id" class="note act"><div class="k"><span :class="{ auto: a.automatic }">{{ a.who }}</span><span>{{ sayInstant(a.at, session.today, session.me!.zone) }}</span></div><p>{{ a.text }}</p></div>
      </template>
      <v-dialog :model-value="clash !== null" persistent>
        <div v-if="clash" class="dialog" role="alertdialog" aria-label="Two versions">
          <h3>Someone saved this task while you were editing</h3>
          <table class="plain"><thead><tr><th></th><th>Yours</th><th>Theirs</th></tr></thead><tbody><tr v-for="(value, field) in clash.mine" :key="field"><td class="quiet">{{ field }}</td><td>{{ show(field, value) }}</td><td>{{ show(field, (clash.theirs as any)[field]) }}</td></tr></tbody></table>
          <div class="btns" style="margin-top: 14px"><button class="btn pri" @click="settle('mine')">Keep mine</button><button class="btn" @click="settle('theirs')">Keep theirs</button></div>
        </div>
      </v-dialog>
    </template>
  </section>
</template>

<style scoped>
.head { display: flex; justify-content: space-between; align-items: center; margin-bottom: 6px; } .head a:hover { text-decoration: underline; }
.title { font: 500 19px/1.25 var(--display); border-color: transparent; padding: 3px 4px; margin-left: -5px; min-height: 34px; field-sizing: content; resize: none; } .title:hover { border-color: var(--rule); }
.line { margin: 4px 0; display: flex; align-items: center; gap: 4px; flex-wrap: wrap; }
.grid { display: grid; grid-template-columns: 70px 1fr; gap: 6px 8px; align-items: center; margin: 8px 0 10px; } .grid label, .lab { color: var(--ink-2); font-size: 12.5px; }
.when { display: flex; gap: 6px; flex-wrap: wrap; } .time { width: 98px; padding-inline: 6px; } .num { width: 90px; } .people { font-weight: 550; padding: 4px 0; } .people:hover { text-decoration: underline; text-underline-offset: 3px; }
h4.section { margin-bottom: 4px; } .items { list-style: none; padding: 0; margin: 0; } .items li { display: flex; gap: 8px; align-items: center; min-height: 30px; border-bottom: 1px solid var(--rule); } .items label { flex: 1; overflow-wrap: anywhere; } .ticked { color: var(--ink-3); text-decoration: line-through; } .items input { accent-color: var(--fern); width: 16px; height: 16px; }
form { margin-top: 6px; } .say { display: grid; gap: 6px; justify-items: start; } .say textarea { min-height: 52px; }
.tabs { display: flex; gap: 14px; margin: 16px 0 2px; border-bottom: 1.5px solid var(--ink); } .tabs button { font: 600 12px var(--sans); color: var(--ink-3); padding: 4px 0; } .tabs [aria-selected='true'] { color: var(--ink); box-shadow: inset 0 -3px var(--fern); }
.body { white-space: pre-wrap; } .act { padding: 6px 0; } .act p { margin: 0; }
</style>
