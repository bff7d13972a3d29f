<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Template, TemplatePhase, TemplateTask } from '#core/templates/template.ts'
import type { TemplateSheet } from '#contract/clockwork.ts'
import { put, sentence } from '#web/api/client.ts'
import { plural, sayMinutes } from '#web/parts/say.ts'
import TokenPick from '#web/parts/TokenPick.vue'
import LoadState from '#web/parts/LoadState.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useUnsaved } from '#web/state/unsaved.ts'
import { useResource } from '#web/state/resource.ts'
import ClockworkNav from './ClockworkNav.vue'
import TemplateTaskEdit from './TemplateTaskEdit.vue'
import TryIt from './TryIt.vue'
import { axisOf, sayOffset } from './axis.ts'

type Editable<T> = {
  -readonly [K in keyof T]: T[K] extends readonly (infer U)[] | undefined ? Editable<U>[] : T[K]
}
type Draft = Editable<Omit<Template, 'phases'>> & {
  phases: (Editable<Omit<TemplatePhase, 'tasks'>> & { tasks: TemplateTask[] })[]
}

const session = useSession()
const messages = useMessages()
const route = useRoute()
const router = useRouter()
const { data, error, reload } = useResource<TemplateSheet>(
  () => `/templates/${String(route.params['id'])}`,
  (c): boolean => c.entities.includes('templates') && !dirty.value,
)
const draft = ref<Draft | null>(null)
const seen = ref(0)
const wrong = ref('')
const busy = ref(false)
const chosen = ref<string | null>(null)
const dirty = computed(
  (): boolean =>
    draft.value !== null &&
    data.value !== null &&
    JSON.stringify(draft.value) !== JSON.stringify(data.value.definition),
)
watch(data, (now) => {
  if (!now || (dirty.value && seen.value)) return
  draft.value = JSON.parse(JSON.stringify(now.definition)) as Draft
  seen.value = now.version
})
useUnsaved(dirty, 'This template')

const may = computed(() => session.me?.may.structure ?? false)
const tasks = computed(() => draft.value?.phases.flatMap((p) => p.tasks) ?? [])
const axis = computed(() => axisOf(tasks.value))
const effort = computed(() => tasks.value.reduce((sum, t) => sum + (t.effort ?? 0), 0))
const number = (key: string) => tasks.value.findIndex((t) => t.key === key) + 1
const selected = computed(() => tasks.value.find((t) => t.key === chosen.value) ?? null)
const roleName = (key: string | undefined) =>
  draft.value?.roles?.find((r) => r.key === key)?.name ?? ''
const phaseOf = (key: string) => draft.value?.phases.find((p) => p.tasks.some((t) => t.key === key))

function change(key: string, edit: Partial<TemplateTask>): void {
  for (const phase of draft.value?.phases ?? [])
    phase.tasks = phase.tasks.map((t) => (t.key === key ? { ...t, ...edit } : t))
}
function shift(task: TemplateTask, by: number): void {
  if (!by || !may.value) return
  change(task.key, {
    due: { ...task.due, days: task.due.days + by },
    ...(task.start && { start: { ...task.start, days: task.start.days + by } }),
  })
}
let grabbed: { key: string; x: number; unit: number; by: number } | null = null
function grab(event: PointerEvent, task: TemplateTask): void {
  if (!may.value) return
  const lane = (event.currentTarget as HTMLElement).parentElement!
  grabbed = { key: task.key, x: event.clientX, unit: lane.clientWidth / axis.value.days, by: 0 }
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
}
function pull(event: PointerEvent, task: TemplateTask): void {
  if (grabbed?.key !== task.key) return
  const by = Math.round((event.clientX - grabbed.x) / grabbed.unit)
  if (by !== grabbed.by) {
    shift(
      tasks.value.find((t) => t.key === task.key)!,
      by - grabbed.by,
    )
    grabbed.by = by
  }
}
const fresh = (base: string, taken: readonly string[]) => {
  let n = taken.length + 1
  while (taken.includes(`${base}-${n}`)) n++
  return `${base}-${n}`
}
function addTask(phase: Draft['phases'][number]): void {
  const key = fresh(
    'task',
    tasks.value.map((t) => t.key),
  )
  phase.tasks = [
    ...phase.tasks,
    { key, title: 'New task', due: { days: phase.tasks.at(-1)?.due.days ?? 0, unit: 'working' } },
  ]
  chosen.value = key
}
function addPhase(): void {
  const phases = draft.value!.phases
  phases.push({
    key: fresh(
      'phase',
      phases.map((p) => p.key),
    ),
    name: `Phase ${phases.length + 1}`,
    tasks: [],
  })
}
function addRole(name: string): string {
  const roles = (draft.value!.roles ??= [])
  const known = roles.find((r) => r.name.toLowerCase() === name.toLowerCase())
  if (known) return known.key
  const key = fresh(
    'role',
    roles.map((r) => r.key),
  )
  roles.push({ key, name })
  return key
}
function removeTask(key: string): void {
  for (const phase of draft.value!.phases) phase.tasks = phase.tasks.filter((t) => t.key !== key)
  chosen.value = null
}
function moveToPhase(key: string, phaseKey: string): void {
  const task = tasks.value.find((t) => t.key === key)!
  for (const phase of draft.value!.phases)
    phase.tasks =
      phase.key === phaseKey
        ? [...phase.tasks.filter((t) => t.key !== key), task]
        : phase.tasks.filter((t) => t.key !== key)
}
async function save(): Promise<void> {
  busy.value = true
  wrong.value = ''
  try {
    const saved = await put<TemplateSheet>(
      `/templates/${data.value!.id}`,
      { definition: draft.value },
      { seen: seen.value },
    )
    seen.value = saved.version
    data.value = saved
    messages.say(`Saved as version ${saved.version}.`)
  } catch (problem) {
    wrong.value = sentence(problem)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main>
    <ClockworkNav>
      <template v-if="data && may">
        <button class="btn" :class="{ pri: dirty }" :disabled="!dirty || busy" @click="save">
          {{ dirty ? `Save as version ${data.version + 1}` : `Version ${data.version}, saved` }}
        </button>
        <button
          v-if="dirty"
          class="btn"
          @click="draft = JSON.parse(JSON.stringify(data.definition))"
        >
          Drop the changes
        </button>
      </template>
    </ClockworkNav>
    <div class="page tpl">
      <div class="sheet">
        <LoadState v-if="!data || !draft" :error="error" @retry="reload" />
        <template v-else>
          <input
            v-model="draft.name"
            class="inp name"
            aria-label="Name of the template"
            :readonly="!may"
            maxlength="120"
          />
          <div class="sub">
            <span>
              {{ plural(draft.phases.length, 'phase') }}, {{ plural(tasks.length, 'task') }}
            </span>
            <span>{{ plural(draft.roles?.length ?? 0, 'role') }}</span>
            <span>{{ sayMinutes(effort) }} effort</span>
            <span>
              counted
              <TokenPick
                v-model="draft.anchor"
                :options="[
                  { value: 'deadline', name: 'back from the deadline' },
                  { value: 'start', name: 'on from the start' },
                ]"
                label="Anchor"
                :disabled="!may"
              />
            </span>
          </div>
          <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
          <div class="axis">
            <span></span>
            <span>Task</span>
            <span>Role</span>
            <span class="r">Effort</span>
            <div class="ticks">
              <span
                v-for="tick in axis.ticks"
                :key="tick.days"
                :class="{ z: tick.days === 0 }"
                :style="{ left: `${tick.at}%` }"
              >
                {{ tick.days === 0 ? (draft.anchor === 'deadline' ? 'Due' : 'Start') : tick.name }}
              </span>
            </div>
          </div>
          <section v-for="phase in draft.phases" :key="phase.key" :aria-label="phase.name">
            <div class="ph">
              <input
                v-model="phase.name"
                class="inp pn"
                aria-label="Name of the phase"
                :readonly="!may"
                maxlength="80"
              />
              <small>{{ plural(phase.tasks.length, 'task') }}</small>
            </div>
            <div
              v-for="task in phase.tasks"
              :key="task.key"
              class="tr"
              :class="{ on: task.key === chosen }"
              @click="chosen = task.key"
            >
              <span class="no">{{ number(task.key) }}</span>
              <button class="t" :aria-expanded="task.key === chosen">{{ task.title }}</button>
              <span class="rl">{{ roleName(task.role) }}</span>
              <span class="e">{{ task.effort === undefined ? '' : sayMinutes(task.effort) }}</span>
              <div class="lane" :style="{ '--days': axis.days }">
                <i class="zero" :style="{ left: `${axis.zero}%` }" />
                <button
                  class="span"
                  :class="{
                    point: !task.start,
                    other: task.due.from && task.due.from !== 'anchor',
                  }"
                  :style="axis.place(task)"
                  :aria-label="`${task.title}, due ${sayOffset(task.due, draft.anchor)}; arrow keys move it`"
                  :title="sayOffset(task.due, draft.anchor)"
                  @pointerdown="grab($event, task)"
                  @pointermove="pull($event, task)"
                  @pointerup="grabbed = null"
                  @keydown.left.prevent="shift(task, -1)"
                  @keydown.right.prevent="shift(task, 1)"
                />
              </div>
            </div>
            <button v-if="may" class="btn flat" @click="addTask(phase)">Add a task</button>
          </section>
          <button v-if="may" class="btn" style="margin-top: 12px" @click="addPhase">
            Add a phase
          </button>
          <div v-if="!tasks.length" class="empty">
            <h3>No tasks yet</h3>
            <p>Add the steps in the order people do them; then give each its role and lead time.</p>
          </div>
        </template>
      </div>
      <aside v-if="data && draft" class="margin">
        <TemplateTaskEdit
          v-if="selected && may"
          :task="selected"
          :template="draft"
          :phase="phaseOf(selected.key)!.key"
          @change="change(selected!.key, $event)"
          @role="change(selected!.key, { role: addRole($event) })"
          @phase="moveToPhase(selected!.key, $event)"
          @remove="removeTask(selected!.key)"
          @close="chosen = null"
        />
        <TryIt v-else :template="data" :unsaved="dirty" @started="router.push(`/work/${$event}`)" />
      </aside>
    </div>
  </main>
</template>

<style scoped>
.name {
  font: 500 27px/1.15 var(--display);
  border-color: transparent;
  background: none;
  padding: 0 4px;
  margin-left: -5px;
}
.name:hover {
  border-color: var(--rule-strong);
}
.axis,
.tr {
  display: grid;
  grid-template-columns: 26px minmax(120px, 214px) 96px 52px minmax(0, 1fr);
  align-items: center;
  gap: 8px;
}
.axis {
  height: 30px;
  border-bottom: 1.5px solid var(--ink);
  font-size: 11.5px;
  color: var(--ink-3);
  font-weight: 600;
}
.r {
  text-align: right;
}
.ticks {
  position: relative;
  height: 100%;
}
.ticks span {
  position: absolute;
  bottom: 3px;
  transform: translateX(-50%);
  white-space: nowrap;
}
.ticks .z {
  color: var(--alarm);
}
.ph {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  padding: 10px 0 3px;
  border-bottom: 1px solid var(--rule);
}
.pn {
  font: 500 15px var(--display);
  border-color: transparent;
  background: none;
  padding: 0 4px;
  margin-left: -5px;
  min-height: 24px;
}
.pn:hover {
  border-color: var(--rule-strong);
}
.ph small {
  color: var(--ink-3);
  font-size: 12px;
  white-space: nowrap;
}
.tr {
  min-height: 33px;
  border-bottom: 1px solid var(--rule);
  cursor: pointer;
}
.tr:hover,
.tr.on {
  background: var(--fern-wash);
}
.no {
  color: var(--ink-3);
  font-size: 12px;
  text-align: right;
}
.t {
  font-weight: 550;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.rl {
  font-size: 12.5px;
  color: var(--heather);
  font-weight: 550;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.e {
  font-size: 12.5px;
  color: var(--ink-2);
  text-align: right;
}
.lane {
  position: relative;
  height: 33px;
  background: linear-gradient(90deg, var(--rule) 1px, transparent 1px) 0 0 /
    calc(100% / var(--days)) 100%;
  overflow: hidden;
}
.zero {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1.5px solid var(--alarm);
  opacity: 0.55;
}
.span {
  position: absolute;
  top: 9px;
  height: 15px;
  background: var(--dusk);
  border-radius: 2px;
  cursor: grab;
  touch-action: none;
  min-width: 6px;
}
.span.other {
  background: repeating-linear-gradient(135deg, var(--dusk) 0 3px, var(--dusk-wash) 3px 6px);
}
.span.point {
  border-radius: 8px;
}
@media (max-width: 900px) {
  .axis,
  .tr {
    grid-template-columns: 20px minmax(0, 1fr) minmax(0, 1fr);
  }
  .axis > :nth-child(3),
  .axis > :nth-child(4),
  .rl,
  .tr .e {
    display: none;
  }
}
</style>
