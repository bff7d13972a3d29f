<script setup lang="ts">
import { mdiClose } from '@mdi/js'
import { computed, defineAsyncComponent, onBeforeUnmount, ref } from 'vue'
import { readMinutes } from '#core/text/read.ts'
import { PRIORITY_LIST } from './choices.ts'
import type { ActivityRow, TaskPatch, TaskSheet } from '#contract/tasks.ts'
import { useRoute, useRouter } from 'vue-router'
import {
  answeredAt,
  ApiProblem,
  call,
  get,
  patch,
  post,
  remove,
  sentence,
} from '#web/api/client.ts'
import { useDraft } from '#web/state/draft.ts'
import { isEverything, onChange } from '#web/state/live.ts'
import { useMessages } from '#web/state/messages.ts'
import { differences, sayPatch, untouched } from '#web/fields/versions.ts'
import { useKnown } from '#web/fields/useKnown.ts'
import { useSession } from '#web/state/session.ts'
import DateField from './DateField.vue'
import FileList from './FileList.vue'
import Glyph from './Glyph.vue'
import { sayDate, sayInstant, sayMinutes } from './say.ts'
import StateBar from './StateBar.vue'
import { toggling, type Edit } from './edits.ts'
import TaskFields from './TaskFields.vue'
import TaskMore from './TaskMore.vue'
import TokenPick from './TokenPick.vue'
import TypeIn from './TypeIn.vue'
import LoadState from './LoadState.vue'
import RemoveButton from './RemoveButton.vue'

// The editor is large: it comes when a task is opened.
const RichText = defineAsyncComponent(() => import('./RichText.vue'))

/**
 * One task, opened in the margin: everything about it, saved field by field as it is left. Each
 * task has a sheet of its own: give it a key.
 */
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ close: []; changed: [] }>()
const router = useRouter()
const route = useRoute()
const session = useSession()
const messages = useMessages()
const task = ref<TaskSheet | null>(null)
/** Who has to do with the task, to be named in what is written on it. */
const around = computed(() => {
  const { assignees = [], followers = [], discussion = [], creator = null } = task.value ?? {}
  return [...assignees, ...followers, creator, ...discussion.map((said) => said.author)].flatMap(
    (person) => (person ? [{ id: person.id, name: person.name }] : []),
  )
})
const activity = ref<ActivityRow[]>([])
const error = ref<string | null>(null)
const wrong = ref<{ place: string; text: string } | null>(null)
/** What is being typed, by field, and the version it started from. */
const draft = ref<{ title?: string; description?: string; estimate?: string }>({})
const seen = ref(0)
const comment = useDraft(`comment.${props.id}`)
const item = ref('')
const tab = ref<'talk' | 'journal'>('talk')
const editing = ref<number | null>(null)
/** The step of the checklist that is being reworded. */
const wording = ref<number | null>(null)
const reworded = ref('')
const clash = ref<{ mine: TaskPatch; theirs: TaskSheet } | null>(null)

async function read(): Promise<void> {
  try {
    const found = await get<TaskSheet>(`/tasks/${props.id}`)
    task.value = found
    // While something is being typed its base stays: saving then finds out whether anyone came in
    // between.
    if (Object.keys(draft.value).length === 0) seen.value = found.version
    activity.value = await get<ActivityRow[]>(`/tasks/${props.id}/activity`)
    error.value = null
  } catch (problem) {
    error.value = sentence(problem)
  }
}
void read()
onChange((c) => {
  const known = answeredAt(task.value) >= c.at
  if (!known && (c.tasks.includes(props.id) || isEverything(c))) void read()
})

function took(found: TaskSheet): void {
  task.value = found
  seen.value = found.version
  emit('changed')
  void get<ActivityRow[]>(`/tasks/${props.id}/activity`).then(
    (rows) => (activity.value = rows),
    () => undefined,
  )
}

/** Edits go one after the other: each starts from the version that the one before it made. */
let line: Promise<unknown> = Promise.resolve()
function save(edit: Edit): Promise<boolean> {
  const turn = line.then(() =>
    send(typeof edit === 'function' ? edit(task.value!) : edit, seen.value),
  )
  line = turn
  return turn
}
async function send(edit: TaskPatch, version: number): Promise<boolean> {
  wrong.value = null
  try {
    took(await patch<TaskSheet>(`/tasks/${props.id}`, edit, { seen: version }))
    return true
  } catch (problem) {
    if (problem instanceof ApiProblem && problem.problem.status === 412 && problem.problem.theirs) {
      const theirs = problem.problem.theirs as TaskSheet
      const base: TaskSheet = { ...task.value!, ...baseOf.value }
      // Somebody changed something else: both edits stand.
      if (untouched(known.value, edit, base, theirs)) return send(edit, theirs.version)
      if (gone)
        messages.fault(
          `Somebody else saved #${props.id} meanwhile, so this was not: ${sayPatch(known.value, edit)}`,
        )
      else clash.value = { mine: edit, theirs }
    } else if (gone) messages.fault(`#${props.id}: ${sentence(problem)}`)
    else
      wrong.value = {
        place: problem instanceof ApiProblem ? (problem.problem.place ?? '') : '',
        text: sentence(problem),
      }
    return false
  }
}
// What is still being typed when the sheet goes is saved, not dropped.
let gone = false
onBeforeUnmount(() => {
  gone = true
  for (const field of Object.keys(draft.value) as (keyof typeof draft.value)[]) void leave(field)
})

/** The fields as they were when typing began. */
const baseOf = ref<Partial<TaskSheet>>({})
function begin(field: 'title' | 'description' | 'estimate', value: string): void {
  if (Object.keys(draft.value).length === 0 && task.value) {
    seen.value = task.value.version
    baseOf.value = {
      title: task.value.title,
      description: task.value.description,
      estimate: task.value.estimate,
    } as Partial<TaskSheet>
  }
  draft.value[field] = value
}
async function leave(field: 'title' | 'description' | 'estimate'): Promise<void> {
  const value = draft.value[field]
  if (value === undefined || !task.value) return
  const minutes = field === 'estimate' && value.trim() !== '' ? readMinutes(value, true) : null
  const fault = field === 'estimate' ? notLength(value) : null
  if (fault !== null) return void (wrong.value = { place: 'estimate', text: fault })
  const edit: TaskPatch = field === 'estimate' ? { estimate: minutes } : { [field]: value.trim() }
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
  if (keep === 'mine') await send(both.mine, both.theirs.version)
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
const go = (id: number) => router.replace({ query: { ...route.query, task: String(id) } })
const under = ref('')
async function addUnder(): Promise<void> {
  const title = under.value.trim()
  if (!title) return
  try {
    await post('/tasks', { title, parentId: props.id })
    under.value = ''
    await read()
    emit('changed')
  } catch (problem) {
    messages.fault(sentence(problem))
  }
}
const part = computed(() => task.value?.assignees.find((a) => a.id === session.me?.id))
const followed = computed(() => task.value?.followers.map((f) => f.id) ?? [])
const follow = (id: number) => save(toggling('followers', id))
async function reword(id: number): Promise<void> {
  if (
    await step(() =>
      call<TaskSheet>('PUT', `/tasks/${props.id}/comments/${id}`, {
        body: { body: reworded.value },
      }),
    )
  )
    editing.value = null
}
const notLength = (text: string): string | null =>
  text.trim() === '' || readMinutes(text, true) !== null
    ? null
    : `“${text}” is no length of time. Write 90, 1h 30m or 1:30.`
async function share(person: number, text: string): Promise<void> {
  await save({ estimates: { [person]: text.trim() === '' ? null : readMinutes(text, true) } })
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
const toggle = (id: number) => save(toggling('assignees', id))
const onIt = computed(() => task.value?.assignees.map((a) => a.name).join(', ') || 'nobody')
const known = useKnown(() =>
  task.value?.project ? { of: 'project', id: task.value.project.id } : { of: 'firm' },
)
</script>

<template>
  <section class="tasksheet" aria-label="Task" @keydown.esc="emit('close')">
    <div class="head">
      <span class="quiet small">
        #{{ id }}
        <template v-if="task?.project">
          {{ ' · ' }}
          <router-link :to="`/work/${task.project.id}`">{{ task.project.name }}</router-link>
        </template>
        <template v-else-if="task?.client">{{ ` · ${task.client.name}` }}</template>
      </span>
      <span class="btns">
        <TaskMore v-if="task" :task="task" @changed="(emit('changed'), read())" @go="go" />
        <button class="x" aria-label="Close the task" @click="emit('close')">
          <Glyph :path="mdiClose" />
        </button>
      </span>
    </div>
    <LoadState v-if="!task" :error="error" @retry="read" />
    <template v-else>
      <p v-if="task.archivedAt" class="small ochre">
        Archived{{ task.mergedInto ? ': merged into ' : '' }}
        <button v-if="task.mergedInto" class="auto" @click="go(task.mergedInto)">
          #{{ task.mergedInto }}
        </button>
      </p>
      <p v-if="task.parent" class="small quiet">
        under
        <button class="auto" @click="go(task.parent.id)">{{ task.parent.title }}</button>
      </p>
      <textarea
        class="title inp"
        rows="1"
        aria-label="Title"
        :readonly="!task.may.edit"
        :value="draft.title ?? task.title"
        maxlength="200"
        @input="begin('title', ($event.target as HTMLTextAreaElement).value)"
        @blur="leave('title')"
        @keydown.enter.prevent="($event.target as HTMLElement).blur()"
      />
      <p v-if="wrong" class="wrong" role="alert">{{ wrong.text }}</p>
      <p class="line">
        <TokenPick
          :model-value="task.stateId ?? 0"
          :options="task.states.map((s) => ({ value: s.id, name: s.name }))"
          label="State"
          @update:model-value="save({ stateId: $event })"
        />
        <TokenPick
          :model-value="task.priority"
          :options="PRIORITY_LIST"
          label="Priority"
          tone="value"
          :disabled="!task.may.edit"
          @update:model-value="save({ priority: $event })"
        />
        <span v-if="task.late" class="alarm small">
          {{ task.daysLate }} working {{ task.daysLate === 1 ? 'day' : 'days' }} late
        </span>
        <span v-else-if="task.entered" class="small quiet">
          since {{ sayInstant(task.entered, session.today, session.me!.zone) }}
        </span>
      </p>
      <p v-if="task.doneBy === 'all' && part" class="small">
        {{ part.doneAt ? 'Your part is done.' : 'Everyone must finish their part.' }}
        <button v-if="!task.closedAt && !part.doneAt" class="btn" @click="save({ state: 'done' })">
          My part is done
        </button>
      </p>
      <p v-if="session.me?.may.structure && !task.series" class="small">
        <router-link class="btn flat" :to="`/clockwork/series/new?fromTask=${task.id}`">
          Make a series of it
        </router-link>
      </p>
      <p v-else-if="task.series && session.me?.may.member" class="small">
        <router-link class="auto" :to="`/clockwork/series/${task.series.id}`">
          from the series “{{ task.series.name }}”
        </router-link>
      </p>
      <p v-if="task.rung && session.me?.may.member" class="small">
        <router-link class="auto" :to="`/clockwork/log?task=${task.id}`">
          Rung {{ task.rung.at }} of {{ task.rung.of }}, “{{ task.rung.rule }}”: why?
        </router-link>
      </p>
      <div class="grid">
        <label for="ts-due">Due{{ task.due ? ` ${sayDate(task.due).slice(0, 3)}` : '' }}</label>
        <span class="when">
          <DateField
            id="ts-due"
            terse
            :model-value="task.due"
            :disabled="!task.may.edit || task.datesFollow"
            @update:model-value="save({ due: $event })"
          />
          <TypeIn
            v-if="task.may.edit || task.dueTime"
            class="time"
            type="time"
            label="Due time"
            :value="task.dueTime ?? ''"
            :disabled="!task.may.edit || !task.due"
            @typed="save({ dueTime: $event || null })"
          />
        </span>
        <label v-if="task.may.edit || task.start" for="ts-start">Start</label>
        <DateField
          v-if="task.may.edit || task.start"
          id="ts-start"
          :model-value="task.start"
          :disabled="!task.may.edit || task.datesFollow"
          @update:model-value="save({ start: $event })"
        />
        <label v-if="task.may.edit || task.estimate" for="ts-est">Estimate</label>
        <span v-if="task.may.edit || task.estimate">
          <input
            id="ts-est"
            class="inp num"
            :readonly="!task.may.edit"
            placeholder="1h 30m"
            :value="draft.estimate ?? (task.estimate ? sayMinutes(task.estimate) : '')"
            @input="begin('estimate', ($event.target as HTMLInputElement).value)"
            @blur="leave('estimate')"
            @keydown.enter="($event.target as HTMLElement).blur()"
          />
        </span>
        <span class="lab">On it</span>
        <v-menu :close-on-content-click="false" :disabled="!task.may.edit">
          <template #activator="{ props: menu }">
            <button
              v-bind="menu"
              class="people"
              :class="{ ochre: !task.assignees.length }"
              :aria-label="`On it: ${onIt}`"
            >
              {{
                task.assignees.map((a) => a.name).join(', ') ||
                (task.role ? `nobody fills ${task.role}` : 'nobody')
              }}
            </button>
          </template>
          <div class="menu">
            <button
              v-for="p in session.active"
              :key="p.id"
              :class="{ on: assigned.includes(p.id) }"
              :aria-pressed="assigned.includes(p.id)"
              @click="toggle(p.id)"
            >
              {{ assigned.includes(p.id) ? '✓ ' : '' }}{{ p.name }}
            </button>
          </div>
        </v-menu>
        <template v-if="task.assignees.length > 1">
          <span class="lab">Parts</span>
          <span class="parts">
            <span v-for="a in task.assignees" :key="a.id" class="part">
              <span :class="{ ticked: a.doneAt }">{{ a.name }}</span>
              <TypeIn
                class="num"
                :readonly="!task.may.edit"
                :label="`Estimate of ${a.name}`"
                placeholder="0m"
                :check="notLength"
                :value="a.estimate ? sayMinutes(a.estimate) : ''"
                @typed="share(a.id, $event)"
              />
            </span>
            <TokenPick
              :model-value="task.doneBy"
              :options="[
                { value: 'any', name: 'done when any one is' },
                { value: 'all', name: 'done when all are' },
              ]"
              label="Done when"
              :disabled="!task.may.edit"
              @update:model-value="save({ doneBy: $event })"
            />
          </span>
        </template>
        <template v-if="task.may.edit">
          <span class="lab">Followers</span>
          <span>
            <button class="btn flat" @click="follow(session.me!.id)">
              {{ followed.includes(session.me!.id) ? 'Unfollow' : 'Follow' }}
            </button>
            <v-menu :close-on-content-click="false">
              <template #activator="{ props: menu }">
                <button v-bind="menu" class="small quiet">
                  {{ task.followers.map((f) => f.name).join(', ') || 'nobody yet' }}
                </button>
              </template>
              <div class="menu">
                <button
                  v-for="p in session.active"
                  :key="p.id"
                  :class="{ on: followed.includes(p.id) }"
                  :aria-pressed="followed.includes(p.id)"
                  @click="follow(p.id)"
                >
                  {{ followed.includes(p.id) ? '✓ ' : '' }}{{ p.name }}
                </button>
              </div>
            </v-menu>
          </span>
        </template>
        <TaskFields :task="task" @save="save" />
      </div>
      <RichText
        v-if="task.may.edit || task.description"
        label="Description"
        placeholder="What it is about, and what done looks like"
        :around="around"
        :readonly="!task.may.edit"
        :model-value="draft.description ?? task.description"
        @update:model-value="begin('description', $event)"
        @leave="leave('description')"
      />
      <h4 v-if="task.may.edit || task.checklist.length" class="section">
        Checklist
        <span v-if="task.checklist.length">
          {{ task.checklist.filter((i) => i.done).length }} of {{ task.checklist.length }}
        </span>
      </h4>
      <ul class="items">
        <li v-for="each in task.checklist" :key="each.id">
          <input
            :id="`item-${each.id}`"
            type="checkbox"
            :checked="each.done"
            :aria-label="each.title"
            @change="step(() => patch(`/tasks/${id}/items/${each.id}`, { done: !each.done }))"
          />
          <TypeIn
            v-if="wording === each.id"
            :value="each.title"
            :label="`Wording of ${each.title}`"
            :most="200"
            autofocus
            @typed="
              $event.trim() &&
              step(() => patch(`/tasks/${id}/items/${each.id}`, { title: $event.trim() }))
            "
            @left="wording = null"
          />
          <button
            v-else-if="task.may.edit"
            class="kid"
            :class="{ ticked: each.done }"
            :aria-label="`Reword ${each.title}`"
            @click="wording = each.id"
          >
            {{ each.title }}
          </button>
          <label v-else :for="`item-${each.id}`" :class="{ ticked: each.done }">
            {{ each.title }}
          </label>
          <RemoveButton
            v-if="task.may.edit"
            :aria-label="`Remove ${each.title}`"
            @click="step(() => remove(`/tasks/${id}/items/${each.id}`))"
          />
        </li>
      </ul>
      <form v-if="task.may.edit" @submit.prevent="addItem">
        <input
          v-model="item"
          class="inp"
          aria-label="Add to the checklist"
          placeholder="Add a step, press Enter"
          maxlength="200"
        />
      </form>
      <template v-if="task.may.edit || task.children.length">
        <h4 class="section">
          Subtasks
          <span v-if="task.subtasks.of">
            {{ task.subtasks.done }} of {{ task.subtasks.of }} done
          </span>
        </h4>
        <ul class="items">
          <li v-for="c in task.children" :key="c.id">
            <StateBar :state="c.state" :colour="c.stateColour" :name="c.stateName" />
            <button class="kid" :class="{ ticked: c.closedAt }" @click="go(c.id)">
              {{ c.title }}
            </button>
            <span class="small" :class="{ alarm: c.late }">
              {{ c.due ? sayDate(c.due, session.today) : '' }}
            </span>
          </li>
        </ul>
        <form v-if="task.may.edit" @submit.prevent="addUnder">
          <input
            v-model="under"
            class="inp"
            aria-label="Add a subtask"
            placeholder="Add a subtask, press Enter"
            maxlength="200"
          />
        </form>
        <p v-if="task.may.edit && task.children.length" class="follows">
          <label>
            <input
              type="checkbox"
              :checked="task.datesFollow"
              @change="save({ datesFollow: !task.datesFollow })"
            />
            Dates follow the subtasks
          </label>
          <label>
            <input
              type="checkbox"
              :checked="task.stateFollows"
              @change="save({ stateFollows: !task.stateFollows })"
            />
            State follows them
          </label>
        </p>
      </template>
      <h4 class="section">
        Files and links
        <span v-if="task.attachments.length">{{ task.attachments.length }}</span>
      </h4>
      <FileList :files="task.attachments" :home="`/tasks/${id}`" may @changed="read" />
      <div class="tabs" role="tablist">
        <button role="tab" :aria-selected="tab === 'talk'" @click="tab = 'talk'">
          Comments {{ task.discussion.length || '' }}
        </button>
        <button role="tab" :aria-selected="tab === 'journal'" @click="tab = 'journal'">
          Journal
        </button>
      </div>
      <template v-if="tab === 'talk'">
        <div v-for="c in task.discussion" :key="c.id" class="note">
          <div class="k">
            <span>{{ c.author?.name ?? 'Fernwick' }}</span>
            <span>
              {{ sayInstant(c.at, session.today, session.me!.zone) }}
              <button
                v-if="c.mine"
                class="auto edit"
                @click="((editing = c.id), (reworded = c.body))"
              >
                reword
              </button>
            </span>
          </div>
          <template v-if="editing === c.id">
            <RichText
              v-model="reworded"
              label="Comment, reworded"
              :around="around"
              @send="reword(c.id)"
            />
            <p class="btns">
              <button class="btn pri" @click="reword(c.id)">Save</button>
              <button class="btn" @click="editing = null">Leave it</button>
              <span class="small quiet">Emptied, it is removed.</span>
            </p>
          </template>
          <!-- eslint-disable-next-line vue/no-v-html -- made safe by the server -->
          <div v-else class="rich" v-html="c.body" />
        </div>
        <form class="say" @submit.prevent="say">
          <RichText
            :around="around"
            v-model="comment"
            label="Comment"
            placeholder="Write to everyone on this task; @ mentions someone"
            @send="say"
          />
          <button class="btn" :disabled="!comment.trim()">Comment</button>
        </form>
      </template>
      <template v-else>
        <div v-for="a in activity" :key="a.id" class="note act">
          <div class="k">
            <span :class="{ auto: a.automatic }">{{ a.who }}</span>
            <span>{{ sayInstant(a.at, session.today, session.me!.zone) }}</span>
          </div>
          <p>{{ a.text }}</p>
        </div>
      </template>
      <v-dialog :model-value="clash !== null" persistent>
        <div v-if="clash" class="dialog" role="alertdialog" aria-label="Two versions">
          <h3>Someone saved this task while you were editing</h3>
          <table class="plain">
            <thead>
              <tr>
                <th></th>
                <th>Yours</th>
                <th>Theirs</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="d in differences(known, clash.mine, clash.theirs)" :key="d.label">
                <td class="quiet">{{ d.label }}</td>
                <td>{{ d.mine }}</td>
                <td>{{ d.theirs }}</td>
              </tr>
            </tbody>
          </table>
          <div class="btns" style="margin-top: 14px">
            <button class="btn pri" @click="settle('mine')">Keep mine</button>
            <button class="btn" @click="settle('theirs')">Keep theirs</button>
          </div>
        </div>
      </v-dialog>
    </template>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin-bottom: 6px;
}
.head a:hover {
  text-decoration: underline;
}
.title {
  font: 500 19px/1.25 var(--display);
  border-color: transparent;
  padding: 3px 4px;
  margin-left: -5px;
  min-height: 34px;
  field-sizing: content;
  resize: none;
}
.title:hover {
  border-color: var(--rule);
}
.line {
  margin: 4px 0;
  display: flex;
  align-items: center;
  gap: 4px;
  flex-wrap: wrap;
}
.grid {
  display: grid;
  grid-template-columns: 70px 1fr;
  gap: 6px 8px;
  align-items: center;
  margin: 8px 0 10px;
}
.grid label,
.lab {
  color: var(--ink-2);
  font-size: 12.5px;
}
.when {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
}
.when :deep(.time) {
  width: 98px;
  padding-inline: 6px;
}
.num,
.part :deep(.num) {
  width: 90px;
}
.people {
  font-weight: 550;
  padding: 4px 0;
}
.people:hover {
  text-decoration: underline;
  text-underline-offset: 3px;
}
h4.section {
  margin-bottom: 4px;
}
.items {
  list-style: none;
  padding: 0;
  margin: 0;
}
.items li {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 30px;
  border-bottom: 1px solid var(--rule);
}
.items :deep(.inp) {
  flex: 1;
  min-height: 27px;
  padding: 2px 6px;
  margin-left: -7px;
}
.items label {
  flex: 1;
  overflow-wrap: anywhere;
}
.ticked {
  color: var(--ink-3);
  text-decoration: line-through;
}
.items input {
  accent-color: var(--fern);
  width: 16px;
  height: 16px;
}
form {
  margin-top: 6px;
}
.say {
  display: grid;
  gap: 6px;
  justify-items: stretch;
}
.say .btn {
  justify-self: start;
}
.kid {
  flex: 1;
  text-align: left;
}
.kid:hover {
  text-decoration: underline;
}
.follows {
  display: flex;
  gap: 14px;
  margin-top: 6px;
  font-size: 12.5px;
}
.follows label {
  display: flex;
  gap: 5px;
}
.parts {
  display: grid;
  gap: 4px;
}
.part {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
}
.edit {
  margin-left: 8px;
}
.tabs {
  display: flex;
  gap: 14px;
  margin: 16px 0 2px;
  border-bottom: 1.5px solid var(--ink);
}
.tabs button {
  font: 600 12px var(--sans);
  color: var(--ink-3);
  padding: 4px 0;
}
.tabs [aria-selected='true'] {
  color: var(--ink);
  box-shadow: inset 0 -3px var(--fern);
}
.act {
  padding: 6px 0;
}
.act p {
  margin: 0;
}
</style>
