<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, ref, watch } from 'vue'
import { editOf, isChosen } from '#core/fields/parse.ts'
import { isMany, type Choice } from '#core/fields/types.ts'
import { PALETTE } from '#contract/fields.ts'
import type { Scope } from '#contract/query.ts'
import type { TaskPatch, TaskRow } from '#contract/tasks.ts'
import { post, sentence } from '#web/api/client.ts'
import { toggled } from '#web/parts/task/edits.ts'
import { useSession } from '#web/state/session.ts'
import { choicesFor, chosenOf, editFor, fieldOf, paletteOf } from './fields.ts'
import { boxText, readCell } from './read.ts'
import { useKnown } from './useKnown.ts'
import { useFieldMenu } from './fieldMenu.ts'
import { vCombobox } from '#web/parts/combobox.ts'
import { escapes } from '#web/parts/escape.ts'
import { everythingWith, isGathered } from '#web/state/everything.ts'
import { later } from '#web/state/later.ts'

const DayPick = later(() => import('#web/parts/DayPick.vue'))

/**
 * Sets one field of a task, or of many: choices narrowed by typing, dates and lengths as people
 * write them.
 */
const props = defineProps<{ scope: Scope }>()
const menu = useFieldMenu()
const session = useSession()
const words = ref('')
const box = ref<{ focus(): void; select(): void } | null>(null)
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
const path = computed(() => menu.ask?.field ?? '')
const field = computed(() => fieldOf(known.value, path.value))
const type = computed(() => field.value?.type ?? 'text')
const choosing = computed(() => isChosen(type.value))
/** Several can be chosen; to many tasks at once, they are added one after the other. */
const several = computed(() => isMany(type.value))
/** What is chosen of several: rows do not carry it all, so it is kept here while the menu is open. */
const mine = ref<(string | number)[]>([])
const all = computed((): Choice[] =>
  type.value === 'yes-no'
    ? [
        { value: 1, name: 'Yes' },
        { value: 0, name: 'No' },
      ]
    : choicesFor(known.value, path.value, task.value ?? undefined),
)
const shown = computed(() =>
  all.value
    .filter((c) => c.name.toLowerCase().includes(words.value.trim().toLowerCase()))
    .slice(0, 200),
)
/** Where everything is that has what the field holds, for what work can be gathered by. */
const leads = computed(() => {
  const to = field.value?.to ?? ''
  return isGathered(to)
    ? all.value
        .filter((choice) => mine.value.includes(choice.value))
        .map(({ value, name }) => ({ name, to: everythingWith(to, Number(value)) }))
    : []
})
const may = computed(() => field.value !== undefined && !field.value.needed && !several.value)
const label = computed(() => field.value?.label ?? '')

watch(
  () => menu.ask,
  async (ask) => {
    task.value = ask?.task ?? null
    wrong.value = ''
    at.value = 0
    mine.value = ask?.task ? chosenOf(known.value, ask.field, ask.task) : []
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
const text = (t: TaskRow | null): string =>
  t && field.value ? boxText(known.value, field.value, t) : ''
function send(patch: TaskPatch, stay = false): void {
  menu.ask?.apply(patch)
  if (!stay) menu.close()
}
/** Puts one of several on, or takes it off; to many tasks at once, they are only ever added. */
function toggle(id: number): void {
  const whole = menu.ask?.task !== null
  const next = whole ? toggled(mine.value.map(Number), id) : [id]
  if (whole) mine.value = next
  if (field.value) send(editOf(field.value, next), whole)
}
function choose(choice: Choice | null): void {
  const value = choice?.value ?? null
  if (several.value) return value === null ? undefined : toggle(Number(value))
  const truth = type.value === 'yes-no' && value !== null
  const patch = editFor(known.value, path.value, truth ? value === 1 : value)
  if (patch) send(patch)
}
function write(): void {
  wrong.value = ''
  try {
    send(readCell(known.value, path.value, words.value))
  } catch (error) {
    wrong.value = sentence(error)
  }
}
/** The date that the field holds, to begin the month with. */
const held = computed(() => {
  const value = task.value && field.value ? field.value.read(task.value, known.value) : null
  return typeof value === 'string' ? value.slice(0, 10) : null
})
function key(event: KeyboardEvent): void {
  if (event.key === 'Escape') return escapes(event, menu.close)
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
    else if (type.value === 'tags' && words.value.trim()) void makeTag()
  } else return
  event.preventDefault()
  void nextTick(() =>
    document.getElementById(`fm-${at.value}`)?.scrollIntoView({ block: 'nearest' }),
  )
}
/** Keys on a button or a link of the menu are its own, but for Esc. */
function keyWithin(event: KeyboardEvent): void {
  const own = (event.target as HTMLElement).closest('button, a') !== null
  if (!own || event.key === 'Escape') key(event)
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
    <div
      class="menu fm"
      :class="{ month: type === 'date' }"
      role="dialog"
      :aria-label="label"
      @keydown="keyWithin"
    >
      <v-text-field
        v-if="choosing"
        ref="box"
        v-model="words"
        v-combobox
        :aria-label="`${label}: narrow the choices`"
        :placeholder="`Narrow: ${label}`"
        aria-expanded="true"
        aria-controls="fm-choices"
        :aria-activedescendant="shown.length ? `fm-${at}` : undefined"
        :error-messages="wrong"
        @input="((at = 0), (wrong = ''))"
      />
      <v-text-field
        v-else
        ref="box"
        v-model="words"
        :aria-label="label"
        :placeholder="type === 'date' ? '3 Dec, fri, tomorrow' : label"
        :error-messages="wrong"
        @input="wrong = ''"
      />
      <template v-if="choosing">
        <div id="fm-choices" role="listbox" :aria-label="label" class="opts">
          <v-list-item
            v-for="(c, i) in shown"
            :id="`fm-${i}`"
            :key="c.value"
            tabindex="-1"
            role="option"
            :aria-selected="mine.includes(c.value)"
            :class="[{ on: mine.includes(c.value), at: i === at }, `c-${paletteOf(c.colour)}`]"
            @click="choose(c)"
          >
            <i v-if="c.colour" class="dot" />
            {{ c.name }}
            <span v-if="mine.includes(c.value)" class="tickmark" aria-hidden="true">✓</span>
          </v-list-item>
        </div>
        <v-btn v-if="may && mine.length" variant="text" @click="choose(null)">Empty it</v-btn>
        <v-btn v-for="one in leads" :key="one.to" variant="text" :to="one.to">
          See everything with {{ one.name }}
        </v-btn>
        <v-btn
          variant="text"
          v-if="
            type === 'tags' &&
            words.trim() &&
            !shown.some((c) => c.name.toLowerCase() === words.trim().toLowerCase())
          "
          @click="makeTag"
        >
          Make the tag “{{ words.trim() }}”
        </v-btn>
        <p v-if="!shown.length && type !== 'tags'" class="small quiet pad">Nothing of that name.</p>
      </template>
      <template v-else-if="type === 'date'">
        <DayPick
          :model-value="held"
          :person="task?.assignees[0]?.id"
          @update:model-value="((words = $event ?? ''), write())"
        />
      </template>
      <v-btn variant="flat" v-else class="save" @click="write">Set</v-btn>
      <span v-if="several && menu.ask.task" class="small quiet pad">
        Choose as many as are meant; Esc closes.
      </span>
    </div>
  </v-menu>
</template>

<style scoped>
.fm {
  width: 240px;
}
.month {
  width: auto;
  max-height: none;
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
.save {
  margin-top: 6px;
}
</style>
