<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, ref, watch } from 'vue'
import { addDays, toEpochDay, weekdayOf } from '#core/calendar/dates.ts'
import { inUnits, readMoney } from '#core/money/money.ts'
import { readDate, readMinutes, readNumber, readWhen } from '#core/text/read.ts'
import type { IsoDate } from '#core/brands.ts'
import { customId, PALETTE, type Choice } from '#contract/fields.ts'
import type { Scope } from '#contract/query.ts'
import type { TaskPatch, TaskRow } from '#contract/tasks.ts'
import { post, sentence } from '#web/api/client.ts'
import { sayDate } from '#web/parts/say.ts'
import { useSession } from '#web/state/session.ts'
import { choicesFor, paletteOf, specOf } from './fields.ts'
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
const currency = computed(() => own.value?.options.currency ?? 'GBP')
const spec = computed(() => specOf(known.value, field.value))
const type = computed(() => spec.value?.type ?? 'text')
const choosing = computed(
  () => type.value === 'choice' || type.value === 'people' || type.value === 'flag',
)
const many = computed(() => field.value === 'assignee' || field.value === 'tag')
const mine = computed((): (string | number)[] => {
  const t = task.value
  if (!t) return []
  if (field.value === 'state') return t.stateId === null ? [] : [t.stateId]
  if (field.value === 'assignee') return t.assignees.map((a) => a.id)
  if (field.value === 'tag') return t.tags.map((g) => g.id)
  if (own.value) return [t.fields[own.value.id]].filter((v) => v !== undefined)
  return [
    { priority: t.priority, client: t.client?.id, project: t.project?.id, phase: t.phaseId }[
      field.value as 'priority'
    ],
  ].filter((v) => v !== undefined && v !== null) as (string | number)[]
})
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
function text(t: TaskRow | null): string {
  if (!t) return ''
  if (field.value === 'title') return t.title
  if (field.value === 'estimate') return t.estimate === null ? '' : String(t.estimate)
  if (field.value === 'due') return t.due && t.dueTime ? `${t.due} ${t.dueTime}` : (t.due ?? '')
  if (field.value === 'start') return t.start ?? ''
  const value = own.value ? t.fields[own.value.id] : undefined
  if (value === undefined) return ''
  return own.value?.kind === 'money'
    ? String(inUnits(Number(value), currency.value))
    : String(value)
}
function send(patch: TaskPatch, stay = false): void {
  menu.ask?.apply(patch)
  if (!stay) menu.close()
}
function choose(choice: Choice | null): void {
  const value = choice?.value ?? null
  // Followers are only ever added, to many at once.
  if (field.value === 'follower')
    return value === null ? undefined : send({ followers: [Number(value)] })
  if (field.value === 'assignee' || field.value === 'tag') {
    if (value === null) return
    const now = mine.value as number[]
    const next = now.includes(Number(value))
      ? now.filter((id) => id !== value)
      : [...now, Number(value)]
    if (task.value)
      task.value = {
        ...task.value,
        ...(field.value === 'assignee'
          ? { assignees: next.map((id) => ({ id, name: '', estimate: null, doneAt: null })) }
          : { tags: next.map((id) => ({ id, name: '', colour: '' })) }),
      }
    return send(
      field.value === 'assignee' ? { assignees: next } : { tags: next },
      menu.ask?.task !== null,
    )
  }
  if (own.value)
    return send({ fields: { [own.value.id]: type.value === 'flag' ? value === 1 : value } })
  if (field.value === 'state') return value === null ? undefined : send({ stateId: Number(value) })
  if (field.value === 'priority')
    return value === null ? undefined : send({ priority: value as 'normal' })
  send({ [`${field.value}Id`]: value } as TaskPatch)
}
function write(): void {
  const typed = words.value.trim()
  wrong.value = ''
  const bad = (want: string) => void (wrong.value = want)
  if (field.value === 'title')
    return typed ? send({ title: typed.slice(0, 200) }) : bad('A task needs a title.')
  if (field.value === 'due' && typed !== '') {
    const when = readWhen(typed, session.today as IsoDate)
    return when
      ? send({ due: when.date, ...(when.time && { dueTime: when.time }) })
      : bad(`“${typed}” is no date. Write 3 Dec, fri 3pm, tomorrow or 3/12/2026.`)
  }
  if (type.value === 'date') {
    const date = typed === '' ? null : readDate(typed, session.today as IsoDate)
    if (typed !== '' && date === null)
      return bad(`“${typed}” is no date. Write 3 Dec, fri, tomorrow or 3/12/2026.`)
    return send(own.value ? { fields: { [own.value.id]: date } } : { [field.value]: date })
  }
  if (type.value === 'minutes') {
    const minutes = typed === '' ? null : readMinutes(typed, true)
    if (typed !== '' && minutes === null)
      return bad(`“${typed}” is no length of time. Write 90, 1h 30m or 1:30.`)
    return send({ estimate: minutes })
  }
  const id = own.value!.id
  if (type.value === 'number' || type.value === 'money') {
    const number = type.value === 'money' ? readMoney(typed, currency.value) : readNumber(typed)
    return typed === '' || number !== null
      ? send({ fields: { [id]: number } })
      : bad(`“${typed}” is no number. Write 1250 or 1,250.50.`)
  }
  send({ fields: { [id]: typed || null } })
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
