<script setup lang="ts">
import { ref } from 'vue'
import type { BulkBody, TaskPatch } from '#contract/tasks.ts'
import { post, sentence } from '#web/api/client.ts'
import { plural } from '#web/parts/say.ts'
import NumberField from '#web/parts/NumberField.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSelection } from '#web/state/selection.ts'
import { useFieldMenu } from '#web/fields/fieldMenu.ts'
import { canSet, fieldsIn } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'

/** What can be done with everything that is marked: one change, one undo. */
const props = defineProps<{ known: Known; all: readonly number[]; project: number | null }>()
const emit = defineEmits<{ reload: []; split: [ids: number[]] }>()
const selection = useSelection()
const messages = useMessages()
const menu = useFieldMenu()
const days = ref<number | null>(1)
const noDays = ref(false)
const busy = ref(false)

async function run(body: Omit<BulkBody, 'ids'>, said: (n: number) => string): Promise<void> {
  busy.value = true
  try {
    const done = await post<{ count: number }>('/tasks/bulk', {
      ids: [...selection.marked],
      ...body,
    })
    if (done.count) messages.did(said(done.count), done)
    else messages.say('Nothing needed changing.')
    emit('reload')
  } catch (error) {
    messages.fault(sentence(error))
  } finally {
    busy.value = false
  }
}
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
function set(event: Event): void {
  const select = event.target as HTMLSelectElement
  const key = select.value
  select.value = ''
  if (!key) return
  const several = SEVERAL.find((s) => s.key === key)
  menu.open({
    target: select,
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
const shift = (sign: number) =>
  run(
    { shift: { days: sign * (days.value ?? 1), working: true } },
    (n) =>
      `${plural(n, 'task')} moved ${sign > 0 ? 'on' : 'back'} by ${plural(days.value ?? 1, 'working day')}.`,
  )
const settable = () =>
  fieldsIn(props.known).filter(
    (f) =>
      canSet(props.known, f.name) && f.name !== 'title' && !SEVERAL.some((s) => s.field === f.name),
  )
</script>

<template>
  <div v-if="selection.count" class="bulk" role="region" aria-label="Marked tasks">
    <b>{{ plural(selection.count, 'task') }} marked</b>
    <button v-if="selection.count < all.length" class="btn flat lite" @click="selection.set(all)">
      Mark all {{ all.length.toLocaleString('en-GB') }}
    </button>
    <select class="inp" aria-label="Set a field of all marked" @change="set">
      <option value="">Set…</option>
      <option v-for="m in SEVERAL" :key="m.key" :value="m.key">{{ m.name }}</option>
      <option v-for="f in settable()" :key="f.name" :value="f.name">{{ f.label }}</option>
    </select>
    <span class="btns">
      <button class="btn" :disabled="busy || noDays" @click="shift(-1)">◂ Back</button>
      <NumberField
        v-model="days"
        label="Working days to move by"
        :min="1"
        :max="250"
        @wrong="noDays = $event"
      />
      <button class="btn" :disabled="busy || noDays" @click="shift(1)">On ▸</button>
      <span class="small">working days</span>
    </span>
    <button
      class="btn"
      :disabled="busy"
      @click="run({ slipped: true }, (n) => `${plural(n, 'slipped task')} brought to today.`)"
    >
      Slipped to today
    </button>
    <button
      class="btn"
      :disabled="busy"
      @click="run({ set: { state: 'done' } }, (n) => `${plural(n, 'task')} done.`)"
    >
      Done
    </button>
    <button
      class="btn"
      :disabled="busy"
      @click="run({ set: { archived: true } }, (n) => `${plural(n, 'task')} archived.`)"
    >
      Archive
    </button>
    <button
      v-if="project"
      class="btn"
      :disabled="busy"
      @click="emit('split', [...selection.marked])"
    >
      Into a new project
    </button>
    <button class="btn flat lite" @click="selection.clear()">Unmark</button>
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
.bulk .inp {
  width: auto;
  min-height: 28px;
  padding: 2px 6px;
}
.bulk .n {
  width: 56px;
}
.bulk .btn:not(.lite) {
  color: var(--ink);
}
.bulk .lite {
  color: var(--marigold);
}
.bulk :focus-visible {
  outline-color: var(--marigold);
}
</style>
