<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import type { BulkBody, TaskPatch } from '#contract/tasks.ts'
import type { Outline, ViewDefinition } from '#contract/query.ts'
import { post } from '#web/api/client.ts'
import { plural } from '#web/parts/say.ts'
import NumberField from '#web/parts/NumberField.vue'
import { toWork } from '#web/parts/to-work.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSelection } from '#web/state/selection.ts'
import { useFieldMenu } from '#web/fields/fieldMenu.ts'
import { canSet, fieldsIn } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import { escapes } from '#web/parts/escape.ts'
import MarkedMove from './MarkedMove.vue'
import LineMenu from '#web/parts/LineMenu.vue'

/** What can be done with everything that is marked: one change, one undo. */
const props = defineProps<{
  known: Known
  all: readonly number[]
  project: number | null
  def: ViewDefinition
  outline: Outline | null
}>()
const emit = defineEmits<{ reload: []; split: [ids: number[]] }>()
const selection = useSelection()
const messages = useMessages()
const menu = useFieldMenu()
const days = ref<number | null>(1)
const noDays = ref(false)
const { busy, attempt } = useAttempt()

// What was pressed keeps the focus meanwhile: it is not disabled, it waits.
const run = async (body: Omit<BulkBody, 'ids'>, said: (n: number) => string) =>
  busy.value ||
  attempt(async () => {
    const ids = [...selection.marked]
    const done = await post<{ count: number }>('/tasks/bulk', { ids, ...body })
    if (done.count) messages.did(said(done.count), done)
    else messages.say('Nothing needed changing.')
    emit('reload')
  })
/** What is added or taken off rather than set, since a task can have several. */
const SEVERAL: readonly {
  key: string
  field: string
  name: string
  body: (ids: number[]) => Omit<BulkBody, 'ids'>
}[] = [
  {
    key: '+assignee',
    field: 'assignee',
    name: 'Add: On it',
    body: (ids) => ({ addAssignees: ids }),
  },
  {
    key: '-assignee',
    field: 'assignee',
    name: 'Take off: On it',
    body: (ids) => ({ removeAssignees: ids }),
  },
  {
    key: '+follower',
    field: 'follower',
    name: 'Add: Follower',
    body: (ids) => ({ addFollowers: ids }),
  },
  { key: '+tag', field: 'tag', name: 'Add: Tag', body: (ids) => ({ addTags: ids }) },
  { key: '-tag', field: 'tag', name: 'Take off: Tag', body: (ids) => ({ removeTags: ids }) },
]
const setter = useTemplateRef<{ $el: HTMLElement }>('setter')
function set(key: string): void {
  const several = SEVERAL.find((s) => s.key === key)
  menu.open({
    target: setter.value!.$el,
    field: several?.field ?? key,
    task: null,
    apply: (patch: TaskPatch) =>
      run(
        several
          ? several.body(patch.assignees ?? patch.followers ?? patch.tags ?? [])
          : { set: patch },
        (n) => `${plural(n, 'task')} changed.`,
      ),
  })
}
/** What is marked, where it is one alone. */
const single = computed(() => (selection.count === 1 ? [...selection.marked][0]! : null))
const sets = computed(() => [
  ...SEVERAL.map((m) => ({ name: m.name, run: () => set(m.key) })),
  ...settable().map((f) => ({ name: f.label, run: () => set(f.name) })),
])
const shift = (sign: number) =>
  run(
    { shift: { days: sign * (days.value ?? 1), working: true } },
    (n) =>
      `${plural(n, 'task')} moved ${sign > 0 ? 'on' : 'back'} by ${plural(days.value ?? 1, 'working day')}.`,
  )
/** Enter in the number of days moves on by them, with Shift back. */
function move(event: KeyboardEvent): void {
  if (!(event.target instanceof HTMLInputElement) || busy.value || noDays.value) return
  event.preventDefault()
  void shift(event.shiftKey ? -1 : 1)
}
const bar = ref<HTMLElement | null>(null)
// Where the bar goes with what was done in it, the keys go back to the work.
watch(
  () => selection.count,
  async (count) => {
    if (count || !bar.value?.contains(document.activeElement)) return
    await nextTick()
    toWork()
  },
  { flush: 'pre' },
)
const settable = () =>
  fieldsIn(props.known).filter(
    (f) =>
      canSet(props.known, f.name) && f.name !== 'title' && !SEVERAL.some((s) => s.field === f.name),
  )
</script>

<template>
  <div
    v-if="selection.count"
    ref="bar"
    @keydown="escapes($event, toWork)"
    class="bulk"
    role="region"
    aria-label="Marked tasks"
  >
    <b>{{ plural(selection.count, 'task') }} marked</b>
    <span class="btns" @keydown.enter="move">
      <NumberField
        v-model="days"
        label="Working days to move by"
        :min="1"
        :max="250"
        @wrong="noDays = $event"
      />
      <span class="small">working days</span>
      <v-btn :disabled="noDays" @click="shift(-1)">◂ Back</v-btn>
      <v-btn :disabled="noDays" data-tip="Enter; Shift+Enter moves back" @click="shift(1)">
        On ▸
      </v-btn>
    </span>
    <MarkedMove
      v-if="single !== null && outline && def.kind !== 'calendar' && def.kind !== 'timeline'"
      :id="single"
      :def="def"
      :outline="outline"
      :known="known"
      @moved="emit('reload')"
    />
    <LineMenu label="Set a field of all marked" :lines="sets">
      <template #default="{ props: opens }">
        <v-btn v-bind="opens" ref="setter" aria-label="Set a field of all marked">Set…</v-btn>
      </template>
    </LineMenu>
    <v-btn
      variant="text"
      v-if="selection.count < all.length"
      class="lite"
      @click="selection.set(all)"
    >
      Mark all {{ all.length.toLocaleString('en-GB') }}
    </v-btn>
    <v-btn @click="run({ slipped: true }, (n) => `${plural(n, 'slipped task')} brought to today.`)">
      Slipped to today
    </v-btn>
    <v-btn @click="run({ set: { state: 'done' } }, (n) => `${plural(n, 'task')} done.`)">
      Done
    </v-btn>
    <v-btn @click="run({ set: { archived: true } }, (n) => `${plural(n, 'task')} archived.`)">
      Archive
    </v-btn>
    <v-btn v-if="project" @click="emit('split', [...selection.marked])">Into a new project</v-btn>
    <v-btn variant="text" class="lite" @click="selection.clear()">Unmark</v-btn>
  </div>
</template>

<style scoped>
.bulk {
  position: sticky;
  bottom: 0;
  z-index: 3;
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
  background: var(--bar);
  color: var(--bar-ink);
  padding: 7px 12px;
  border-radius: 4px 4px 0 0;
}
.bulk .v-btn:not(.lite) {
  color: var(--ink);
}
.bulk .lite {
  color: var(--marigold);
}
.bulk :focus-visible {
  outline-color: var(--marigold);
}
/* Pulled along rather than piled up: the rows it is about stay in sight. */
@media (max-width: 900px) {
  .bulk {
    flex-wrap: nowrap;
    overflow-x: auto;
    white-space: nowrap;
  }
  .bulk > * {
    flex: none;
  }
}
</style>
