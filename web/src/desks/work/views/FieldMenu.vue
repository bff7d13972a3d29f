<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, ref, watch } from 'vue'
import { addDays, toEpochDay, weekdayOf } from '#core/calendar/dates.ts'
import { inUnits } from '#core/money/money.ts'
import type { IsoDate } from '#core/brands.ts'
import { customId, PALETTE, type Choice } from '#contract/fields.ts'
import type { Scope } from '#contract/query.ts'
import type { TaskPatch, TaskRow } from '#contract/tasks.ts'
import { post, sentence } from '#web/api/client.ts'
import { toggled } from '#web/parts/edits.ts'
import { sayDate } from '#web/parts/say.ts'
import { useSession } from '#web/state/session.ts'
import { choicesFor, chosenOf, editFor, paletteOf, specOf } from './fields.ts'
import { readCell } from './read-cell.ts'
import { TASK_FIELDS_HERE } from './task-fields.ts'
import { useKnown } from './useKnown.ts'
import { useFieldMenu } from './fieldMenu.ts'

/**
 * Sets one field of a task, or of many: choices narrowed by typing, dates and lengths as people
 * write them.
 */
const props = defineProps<{ scope: Scope }>()
const menu = useFieldMenu()
const session = useSession()
const words = ref('')
const box = ref<HTMLInputElement | null>(null)
const at = ref(0)
const wrong = ref('')
const open = computed({
  get: () => menu.ask !== null,
  set: (on) => {
    if (!on) menu.close()
  },
})
// The row as it is while the menu is open: several people can be chosen one after the other.
const task = ref<TaskRow | null>(null)
const known = useKnown(
  () => props.scope,
  () => (menu.ask?.field === 'phase' ? (task.value?.project?.id ?? null) : undefined),
)
const field = computed(() => menu.ask?.field ?? '')
const own = computed(() => session.directory.fields.find((f) => f.id === customId(field.value)))
const spec = computed(() => specOf(known.value, field.value))
const type = computed(() => spec.value?.type ?? 'text')
const choosing = computed(
  () => type.value === 'choice' || type.value === 'people' || type.value === 'flag',
)
const here = computed(() => TASK_FIELDS_HERE[field.value])
const many = computed(() => here.value?.setAll !== undefined && field.value !== 'follower')
const mine = computed((): (string | number)[] =>
  task.value ? chosenOf(known.value, field.value, task.value) : [],
)
const all = computed((): Choice[] =>
  type.value === 'flag'
    ? [
        { value: 1, name: 'Yes' },
        { value: 0, name: 'No' },
      ]
    : choicesFor(known.value, field.value, task.value ?? undefined),
)
const shown = computed(() =>
  all.value
    .filter((c) => c.name.toLowerCase().includes(words.value.trim().toLowerCase()))
    .slice(0, 200),
)
const may = computed(
  () => ['client', 'project', 'phase'].includes(field.value) || own.value !== undefined,
)
const label = computed(() => spec.value?.name ?? '')

watch(
  () => menu.ask,
  async (ask) => {
    task.value = ask?.task ?? null
    wrong.value = ''
    at.value = 0
    words.value = ask?.typed ?? (ask && !choosing.value ? text(ask.task) : '')
    if (!ask) return
    untouched = ask.typed === undefined
    await nextTick()
    setTimeout(() => {
      box.value?.focus()
      if (untouched) box.value?.select()
    }, 30)
  },
)
/** What stands in the box of a field that is written, not chosen. */
function text(t: TaskRow | null): string {
  if (!t) return ''
  const { title, estimate, due, dueTime, start } = t
  const whole = due && dueTime ? `${due} ${dueTime}` : due
  const value = own.value
    ? t.fields[own.value.id]
    : { title, estimate, due: whole, start }[field.value]
  return own.value?.kind === 'money' && value !== undefined
    ? String(inUnits(Number(value), own.value.options.currency ?? 'GBP'))
    : String(value ?? '')
}
function send(patch: TaskPatch, stay = false): void {
  menu.ask?.apply(patch)
  if (!stay) menu.close()
}
/** Puts one of several on, or takes it off; followers are only ever added, to many at once. */
function toggle(id: number, setAll: (ids: readonly number[]) => TaskPatch): void {
  if (!many.value) return send(setAll([id]))
  const next = toggled(mine.value.map(Number), id)
  if (task.value)
    task.value = {
      ...task.value,
      ...(field.value === 'assignee'
        ? { assignees: next.map((id) => ({ id, name: '', estimate: null, doneAt: null })) }
        : { tags: next.map((id) => ({ id, name: '', colour: '' })) }),
    }
  send(setAll(next), menu.ask?.task !== null)
}
function choose(choice: Choice | null): void {
  const value = choice?.value ?? null
  const setAll = here.value?.setAll
  if (setAll) return value === null ? undefined : toggle(Number(value), setAll)
  if (own.value && type.value === 'flag') return send({ fields: { [own.value.id]: value === 1 } })
  const patch = editFor(field.value, value)
  if (patch) send(patch)
}
function write(): void {
  wrong.value = ''
  try {
    send(readCell(known.value, field.value, words.value))
  } catch (error) {
    wrong.value = sentence(error)
  }
}
const days = computed(() => {
  const today = session.today as IsoDate
  const monday = addDays(today, 8 - weekdayOf(toEpochDay(today)))
  return [
    ...new Set([today, addDays(today, 1), monday, addDays(today, 7), addDays(today, 14)]),
  ].map((date) => ({ date, name: date === today ? 'Today' : sayDate(date, today) }))
})
function key(event: KeyboardEvent): void {
  if (event.key === 'Escape') return menu.close()
  if (!choosing.value) {
    if (event.key !== 'Enter' && event.key !== 'Tab') return
    event.preventDefault()
    write()
    return
  }
  if (event.key === 'ArrowDown') at.value = Math.min(shown.value.length - 1, at.value + 1)
  else if (event.key === 'ArrowUp') at.value = Math.max(0, at.value - 1)
  else if (event.key === 'Enter') {
    const choice = shown.value[at.value]
    if (choice) choose(choice)
    else if (field.value === 'tag' && words.value.trim()) void makeTag()
  } else return
  event.preventDefault()
}
/**
 * What stands in the box is still what the field held: the first key typed takes its place, as in a
 * box that is selected.
 */
let untouched = true
menu.sink = (event) => {
  if (event.key.length !== 1) return key(event)
  words.value = untouched ? event.key : words.value + event.key
  untouched = false
}
onBeforeUnmount(() => (menu.sink = null))
async function makeTag(): Promise<void> {
  try {
    const tag = await post<{ id: number; name: string; colour: string }>('/tags', {
      name: words.value.trim(),
      colour: PALETTE[session.directory.tags.length % PALETTE.length],
    })
    await session.read()
    words.value = ''
    choose({ value: tag.id, name: tag.name })
  } catch (error) {
    wrong.value = sentence(error)
  }
}
</script>

<template>
  <v-menu
    v-if="menu.ask"
    v-model="open"
    :target="menu.ask.target"
    :close-on-content-click="false"
    location="bottom start"
  >
    <div class="menu fm" role="dialog" :aria-label="label" @keydown="key">
      <input
        ref="box"
        v-model="words"
        class="inp"
        :aria-label="choosing ? `${label}: narrow the choices` : label"
        :placeholder="
          choosing ? `Narrow: ${label}` : type === 'date' ? '3 Dec, fri, tomorrow' : label
        "
        @input="at = 0"
      />
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <template v-if="choosing">
        <div role="listbox" :aria-label="label" class="opts">
          <button
            v-for="(c, i) in shown"
            :key="c.value"
            type="button"
            role="option"
            :aria-selected="mine.includes(c.value)"
            :class="[{ on: mine.includes(c.value), at: i === at }, `c-${paletteOf(c.colour)}`]"
            @click="choose(c)"
          >
            <i v-if="c.colour" class="dot" />
            {{ c.name }}
            <span v-if="mine.includes(c.value)" class="tickmark" aria-hidden="true">✓</span>
          </button>
        </div>
        <button v-if="may && mine.length" type="button" class="quiet" @click="choose(null)">
          Empty it
        </button>
        <button
          v-if="
            field === 'tag' &&
            words.trim() &&
            !shown.some((c) => c.name.toLowerCase() === words.trim().toLowerCase())
          "
          type="button"
          @click="makeTag"
        >
          Make the tag “{{ words.trim() }}”
        </button>
        <p v-if="!shown.length && field !== 'tag'" class="small quiet pad">Nothing of that name.</p>
      </template>
      <template v-else-if="type === 'date'">
        <button v-for="d in days" :key="d.date" type="button" @click="((words = d.date), write())">
          {{ d.name }}
        </button>
        <button type="button" class="quiet" @click="((words = ''), write())">No date</button>
      </template>
      <button v-else type="button" class="btn pri save" @click="write">Set</button>
      <span v-if="many && menu.ask.task" class="small quiet pad">
        Choose as many as are meant; Esc closes.
      </span>
    </div>
  </v-menu>
</template>

<style scoped>
.fm {
  width: 240px;
}
.opts {
  max-height: 260px;
  overflow: auto;
  margin-top: 4px;
}
.at {
  background: var(--fern-wash);
}
.dot {
  display: inline-block;
  width: 9px;
  height: 9px;
  border-radius: 2px;
  background: var(--own);
  margin-right: 7px;
}
.tickmark {
  float: right;
}
.pad {
  padding: 4px 9px;
}
.menu .save {
  margin-top: 6px;
  width: auto;
  text-align: center;
  display: inline-flex;
}
.wrong {
  padding: 4px 2px 0;
}
</style>
