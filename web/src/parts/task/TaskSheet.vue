<script setup lang="ts">
import { mdiClose } from '@mdi/js'
import { useEventListener } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ActivityRow, TaskSheet } from '#contract/tasks.ts'
import { patch } from '#web/api/client.ts'
import { useKnown } from '#web/fields/useKnown.ts'
import { differences, sayPatch, untouched } from '#web/fields/versions.ts'
import ClashAsk from '#web/forms/ClashAsk.vue'
import { PRIORITY_LIST } from '#web/parts/choices.ts'
import FileList from '#web/parts/FileList.vue'
import Glyph from '#web/parts/Glyph.vue'
import LoadState from '#web/parts/LoadState.vue'
import { tickEdit } from '#web/parts/tick.ts'
import { typesIn } from '#web/parts/types-in.ts'
import TokenPick from '#web/parts/TokenPick.vue'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import { everythingWith } from '#web/state/everything.ts'
import { useSession } from '#web/state/session.ts'
import { useTasks } from '#web/state/tasks.ts'
import TaskChecklist from './TaskChecklist.vue'
import TaskFacts from './TaskFacts.vue'
import TaskMore from './TaskMore.vue'
import TaskReminders from './TaskReminders.vue'
import TaskTalk from './TaskTalk.vue'
import TaskUnder from './TaskUnder.vue'
import { useEdits } from './useEdits.ts'
import { later } from '#web/state/later.ts'

// The editor is large: it comes when a task is opened.
const RichText = later(() => import('#web/parts/RichText.vue'))

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
const tasks = useTasks()
const {
  data: task,
  error,
  reload: read,
} = useResource<TaskSheet>(
  () => `/tasks/${props.id}`,
  ({ tasks }) => tasks.includes(props.id),
)
const { data: activity, touched } = useResource<ActivityRow[]>(
  () => `/tasks/${props.id}/activity`,
  ({ tasks }) => tasks.includes(props.id),
)
const known = useKnown(() =>
  task.value?.project ? { of: 'project', id: task.value.project.id } : { of: 'firm' },
)

function took(found: TaskSheet): void {
  task.value = found
  tasks.put(found)
  touched()
  emit('changed')
}
const { texts, type, leave, save, wrong, clash, ...edits } = useEdits({
  task,
  async send(edit, seen) {
    const saved = await patch<TaskSheet>(`/tasks/${props.id}`, edit, { seen })
    messages.remember(`“${saved.title}”: ${sayPatch(known.value, edit)}`, saved)
    took(saved)
    return saved
  },
  touches: (edit, base, theirs) => !untouched(known.value, edit, base, theirs),
  told: (edit, why) =>
    messages.fault(
      why === null
        ? `Somebody else saved #${props.id} meanwhile, so this was not: ${sayPatch(known.value, edit)}`
        : `#${props.id}: ${why}`,
    ),
})
const clashes = computed(() =>
  clash.value ? differences(known.value, clash.value.mine, clash.value.theirs) : [],
)
async function settle(keep: 'mine' | 'theirs'): Promise<void> {
  const theirs = await edits.settle(keep)
  if (theirs) took(theirs)
}
/** Who has to do with the task, to be named in what is written on it. */
const around = computed(() => {
  const { assignees = [], followers = [], discussion = [], creator = null } = task.value ?? {}
  return [...assignees, ...followers, creator, ...discussion.map((said) => said.author)].flatMap(
    (person) => (person ? [{ id: person.id, name: person.name }] : []),
  )
})
/** Letters that lead from anywhere in the sheet to what they set. */
const KEYS: Readonly<Record<string, string>> = {
  ...{ s: 'button.state', p: 'button.priority', d: '#ts-due', a: '#ts-on', g: '#ts-tags' },
  c: '.say [contenteditable="true"]',
}
const section = useTemplateRef<HTMLElement>('section')
const isOurs = (event: KeyboardEvent) =>
  !(event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) &&
  !typesIn(event.target as HTMLElement)
function key(event: KeyboardEvent): void {
  if (!isOurs(event) || !task.value) return
  const to = section.value?.querySelector<HTMLElement>(KEYS[event.key] ?? '#none')
  if (event.key !== 't' && !to) return
  event.preventDefault()
  if (event.key === 't') void save(tickEdit(task.value)[0])
  else if (to?.matches('button')) to.click()
  else to?.focus()
}
// The margin that it stands in has the focus first.
useEventListener(() => section.value?.parentElement, 'keydown', key)
const go = (id: number) => router.replace({ query: { ...route.query, task: String(id) } })
const part = computed(() => task.value?.assignees.find((a) => a.id === session.me?.id))
</script>

<template>
  <section ref="section" class="tasksheet" aria-label="Task">
    <div class="head">
      <span class="quiet small">
        #{{ id }}
        <template v-if="task?.client">
          {{ ' · ' }}
          <v-btn variant="plain" :to="everythingWith('client', task.client.id)">
            {{ task.client.short }}
          </v-btn>
        </template>
        <template v-if="task?.project">
          {{ ' · ' }}
          <v-btn variant="plain" :to="`/work/${task.project.id}`">
            {{ task.project.name.replace(`${task.client?.short}, `, '') }}
          </v-btn>
        </template>
      </span>
      <span class="btns">
        <TaskMore v-if="task" :task="task" @changed="(emit('changed'), read())" @go="go" />
        <v-btn icon aria-label="Close the task" @click="emit('close')">
          <Glyph :path="mdiClose" />
        </v-btn>
      </span>
    </div>
    <LoadState v-if="!task" :error="error" @retry="read" />
    <template v-else>
      <p v-if="task.archivedAt" class="small ochre">
        Archived{{ task.mergedInto ? ': merged into ' : '' }}
        <v-btn variant="plain" v-if="task.mergedInto" class="auto" @click="go(task.mergedInto)">
          #{{ task.mergedInto }}
        </v-btn>
      </p>
      <p v-if="task.parent" class="small quiet">
        under
        <v-btn variant="plain" class="auto" @click="go(task.parent.id)">
          {{ task.parent.title }}
        </v-btn>
      </p>
      <v-textarea
        class="title seamless"
        rows="1"
        auto-grow
        no-resize
        aria-label="Title"
        :readonly="!task.may.edit"
        :model-value="texts.title ?? task.title"
        maxlength="200"
        @input="type('title', ($event.target as HTMLTextAreaElement).value)"
        @blur="leave('title')"
        @keydown.enter.prevent="($event.target as HTMLElement).blur()"
      />
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <p class="line">
        <TokenPick
          class="state"
          :model-value="task.stateId ?? 0"
          :options="task.states.map((s) => ({ value: s.id, name: s.name }))"
          label="State"
          :disabled="!task.may.progress"
          @update:model-value="save({ stateId: $event })"
        />
        <TokenPick
          class="priority"
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
          since {{ session.sayAt(task.entered) }}
        </span>
      </p>
      <p v-if="task.doneBy === 'all' && part" class="small">
        {{ part.doneAt ? 'Your part is done.' : 'Everyone must finish their part.' }}
        <v-btn v-if="!task.closedAt && !part.doneAt" @click="save({ state: 'done' })">
          My part is done
        </v-btn>
      </p>
      <p v-if="session.me?.may.structure && !task.series" class="small">
        <v-btn variant="text" :to="`/clockwork/series/new?fromTask=${task.id}`">
          Make a series of it
        </v-btn>
      </p>
      <p v-else-if="task.series && session.me?.may.member" class="small">
        <v-btn variant="plain" class="auto" :to="`/clockwork/series/${task.series.id}`">
          from the series “{{ task.series.name }}”
        </v-btn>
      </p>
      <p v-if="task.rung && session.me?.may.member" class="small">
        <v-btn variant="plain" class="auto" :to="`/clockwork/log?task=${task.id}`">
          Rung {{ task.rung.at }} of {{ task.rung.of }}, “{{ task.rung.rule }}”: why?
        </v-btn>
      </p>
      <TaskFacts :task="task" @save="save" />
      <RichText
        v-if="task.may.edit || task.description"
        label="Description"
        placeholder="What it is about, and what done looks like"
        :around="around"
        :readonly="!task.may.edit"
        :model-value="texts.description ?? task.description"
        @update:model-value="type('description', $event)"
        @leave="leave('description')"
      />
      <TaskChecklist :task="task" @took="took" @made="(read(), emit('changed'))" />
      <TaskUnder :task="task" @go="go" @save="save" @made="(read(), emit('changed'))" />
      <TaskReminders :task="task" @changed="took" />
      <h4 class="section">
        Files and links
        <span v-if="task.attachments.length">{{ task.attachments.length }}</span>
      </h4>
      <FileList :files="task.attachments" :home="`/tasks/${id}`" may @changed="read" />
      <TaskTalk :task="task" :activity="activity ?? []" :around="around" @took="took" />
      <ClashAsk :clashes="clashes" what="this task" @settle="settle" />
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
  padding: 3px 4px;
  margin-left: -5px;
  min-height: 34px;
}
.line {
  margin: 4px 0;
  display: flex;
  align-items: center;
  gap: 4px;
  flex-wrap: wrap;
}
.tasksheet :deep(h4.section) {
  margin-bottom: 4px;
}
</style>
