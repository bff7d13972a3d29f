<script setup lang="ts">
import { mdiCheck } from '@mdi/js'
import { computed, ref, useTemplateRef, watch } from 'vue'
import type { TaskPatch, TaskRow, TaskSheet } from '#contract/tasks.ts'
import { patch, sentence } from '#web/api/client.ts'
import { vCarry } from '#web/drag/carry.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useFieldMenu } from '#web/fields/fieldMenu.ts'
import { everythingWith } from '#web/state/everything.ts'
import Glyph from './Glyph.vue'
import { taskKeyDoes } from './task/task-keys.ts'
import PersonMark from './PersonMark.vue'
import { sayDate, sayMinutes, sayTime } from './say.ts'
import StateBar from './StateBar.vue'
import { DAY_MS } from './days.ts'
import { tickEdit } from './tick.ts'
import LineMenu, { type MenuLine } from './LineMenu.vue'

/** A task in a list: tick it, open it, move its date, drag it onto a day. */
const props = withDefaults(defineProps<{ task: TaskRow; place?: boolean }>(), { place: true })
const emit = defineEmits<{ open: [id: number]; changed: [] }>()
const session = useSession()
const messages = useMessages()
/** What edits under way will show: it is seen at once, and stands until the task is told anew. */
const meanwhile = ref<Partial<TaskRow>>({})
const task = computed((): TaskRow => ({ ...props.task, ...meanwhile.value }))
let underWay = 0
watch(
  () => props.task,
  () => {
    if (underWay === 0) meanwhile.value = {}
  },
)
/** Edits go one after the other, however quick the hand. */
let turn: Promise<void> = Promise.resolve()
function change(
  edit: TaskPatch,
  shown: Partial<TaskRow>,
  said: (task: TaskSheet) => string,
): Promise<void> {
  meanwhile.value = { ...meanwhile.value, ...shown }
  underWay++
  turn = turn.then(async () => {
    try {
      const saved = await patch<TaskSheet>(`/tasks/${props.task.id}`, edit)
      underWay--
      messages.did(said(saved), saved)
      emit('changed')
    } catch (error) {
      underWay--
      meanwhile.value = {}
      messages.fault(sentence(error))
    }
  })
  return turn
}
const tick = (): Promise<void> => change(...tickEdit(task.value))
const move = (due: string | null) =>
  change({ due }, { due, ...(due === null && { dueTime: null, late: false }) }, (saved) =>
    saved.due
      ? `“${saved.title}” moved to ${sayDate(saved.due, session.today)}.`
      : `“${saved.title}” has no date now.`,
  )
const later = (days: number) =>
  new Date(Date.parse(session.today) + days * DAY_MS).toISOString().slice(0, 10)
const untilMonday = () => (8 - new Date(Date.parse(session.today)).getUTCDay()) % 7 || 7

function when(task: TaskRow): string {
  if (!task.due) return 'No date'
  if (task.due === session.today)
    return task.dueTime ? sayTime(task.dueTime, session.saying.clock) : 'Any time'
  return sayDate(task.due, session.today)
}
const line = useTemplateRef<HTMLElement>('line')
const menu = useFieldMenu()
/** Keys do to it what they do to a task anywhere; its date has a menu of its own. */
function key(event: KeyboardEvent): void {
  const does = event.defaultPrevented ? null : taskKeyDoes(event)
  if (!does || !session.me?.may.member) return
  if ('tick' in does) void (task.value.mayWork && tick())
  else if ('set' in does && does.set === 'due')
    line.value?.querySelector<HTMLElement>('.d')?.click()
  else if ('set' in does)
    menu.open({
      target: event.target as HTMLElement,
      field: does.set,
      task: task.value,
      apply: (edit: TaskPatch) => change(edit, {}, (t) => `“${t.title}” is saved.`),
    })
  else return
  event.preventDefault()
}
const moves = computed((): (MenuLine | false)[] =>
  session.me?.may.member
    ? [
        { name: 'To today', run: () => move(session.today) },
        ...[1, untilMonday(), 7].map((days) => ({
          name: `To ${sayDate(later(days), session.today)}`,
          run: () => move(later(days)),
        })),
        task.value.due !== null && { name: 'No date', run: () => move(null) },
      ]
    : [],
)
</script>

<template>
  <div
    ref="line"
    class="row"
    role="row"
    :class="{ closed: task.closedAt }"
    v-carry="session.me?.may.member && { kind: 'task', id: task.id, name: task.title }"
    @keydown="key"
  >
    <span role="gridcell" class="cell">
      <button
        class="box"
        role="checkbox"
        :aria-checked="task.state === 'done'"
        :disabled="!task.mayWork"
        :aria-label="`Done: ${task.title}`"
        @click="tick"
      >
        <Glyph v-if="task.state === 'done'" :path="mdiCheck" :size="13" />
      </button>
      <StateBar
        :state="task.state"
        :colour="task.stateColour"
        :name="task.stateName"
        :aria-label="task.stateName"
      />
    </span>
    <div class="t" role="gridcell">
      <button class="open" :data-opens="task.id" @click="emit('open', task.id)">
        {{ task.title }}
      </button>
      <span v-if="task.priority === 'urgent' || task.priority === 'high'" class="urgent">
        {{ task.priority === 'urgent' ? 'Urgent' : 'High' }}
      </span>
      <router-link
        v-for="tag in task.tags"
        :key="tag.id"
        class="tint"
        :class="`c-${tag.colour}`"
        :to="everythingWith('tag', tag.id)"
      >
        {{ tag.name }}
      </router-link>
      <small v-if="task.checklist.length">
        {{ task.checklist.filter((i) => i.done).length }} of {{ task.checklist.length }} ticked
      </small>
      <router-link
        v-if="task.rung && session.me?.may.member"
        class="auto"
        :to="`/clockwork/log?task=${task.id}`"
        :data-tip="`Rule “${task.rung.rule}”`"
      >
        rung {{ task.rung.at }} of {{ task.rung.of }}
      </router-link>
      <router-link
        v-else-if="place && task.series && session.me?.may.member"
        class="auto"
        :to="`/clockwork/series/${task.series.id}`"
        :data-tip="`Series “${task.series.name}”`"
      >
        from series
      </router-link>
    </div>
    <div class="p" role="gridcell">
      <template v-if="place">
        <router-link v-if="task.client" :to="everythingWith('client', task.client.id)">
          {{ task.client.short }}
        </router-link>
        <template v-if="task.client && task.project">{{ ' · ' }}</template>
        <router-link v-if="task.project" :to="`/work/${task.project.id}`">
          {{
            task.client
              ? task.project.name.replace(`${task.client.short}, `, '')
              : task.project.name
          }}
        </router-link>
      </template>
      <template v-else-if="task.role">{{ task.role }}</template>
    </div>
    <div class="e" role="gridcell">{{ task.estimate ? sayMinutes(task.estimate) : '' }}</div>
    <span role="gridcell" class="cell">
      <LineMenu :label="`Due ${when(task)}; move`" :lines="moves">
        <template #default="{ props: menu }">
          <button
            v-bind="menu"
            class="d"
            :class="{ late: task.late }"
            :aria-label="`Due ${when(task)}; move`"
          >
            {{ when(task) }}
          </button>
        </template>
        <template #head>
          <p v-if="task.late" class="small alarm pad">
            {{ task.daysLate }} working {{ task.daysLate === 1 ? 'day' : 'days' }} late
          </p>
          <p v-if="!session.me?.may.member" class="small pad quiet">Only members move dates.</p>
        </template>
      </LineMenu>
    </span>
    <div class="who" role="gridcell">
      <router-link
        v-for="person in task.assignees.slice(0, 3)"
        :key="person.id"
        :to="everythingWith('person', person.id)"
      >
        <PersonMark :person="person" />
      </router-link>
      <span v-if="!task.assignees.length" class="small ochre">nobody</span>
    </div>
  </div>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: auto 8px minmax(0, 1fr) 176px 56px 92px 58px;
  gap: 10px;
  align-items: center;
  min-height: 37px;
  border-bottom: 1px solid var(--rule);
}
.row:hover {
  background: color-mix(in srgb, var(--fern) 5%, transparent);
}
.cell {
  display: contents;
}
.box {
  width: 17px;
  height: 17px;
  border: 1.5px solid var(--ink-3);
  border-radius: 3px;
  background: var(--sheet);
  display: grid;
  place-items: center;
  color: var(--fern-ink);
}
/* Looked at, not ticked. */
.box:disabled {
  opacity: 0.35;
  cursor: default;
}
.box[aria-checked='true'] {
  background: var(--fern);
  border-color: var(--fern);
}
.t {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 8px;
  min-width: 0;
  padding-block: 3px;
}
.open {
  font-weight: 550;
  min-width: 0;
}
.open:hover {
  text-decoration: underline;
  text-underline-offset: 3px;
}
small {
  color: var(--ink-3);
  font-size: 12px;
}
.urgent {
  color: var(--alarm);
  font-weight: 650;
  font-size: 12px;
}
.p {
  color: var(--ink-2);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  font-size: 12.5px;
}
.p a:hover {
  text-decoration: underline;
}
.e {
  text-align: right;
  color: var(--ink-2);
}
.d {
  font-weight: 550;
  white-space: nowrap;
}
.d:hover {
  text-decoration: underline;
  text-underline-offset: 3px;
}
.d.late {
  color: var(--alarm);
}
.who {
  display: flex;
}
.closed .open {
  color: var(--ink-3);
  text-decoration: line-through;
}
.pad {
  padding: 4px 9px;
}
@media (pointer: coarse) {
  .box {
    width: 26px;
    height: 26px;
  }
  .open,
  .d {
    min-height: 44px;
  }
}
@media (max-width: 900px) {
  .row {
    grid-template-columns: auto 8px minmax(0, 1fr) auto;
    grid-auto-rows: auto;
    padding: 6px 0;
  }
  .p {
    grid-column: 3;
    font-size: 12px;
    grid-row: 2;
  }
  .e,
  .who {
    display: none;
  }
  .d {
    grid-row: 1;
    grid-column: 4;
  }
}
</style>
