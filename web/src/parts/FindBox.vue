<script setup lang="ts">
import { useDebounceFn, useEventListener } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { IsoDate } from '#core/brands.ts'
import { capture, type Captured } from '#core/text/capture.ts'
import type { Found, FoundTask } from '#contract/find.ts'
import { PRIORITY_NAMES } from '#contract/words.ts'
import type { TaskPatch, TaskSheet } from '#contract/tasks.ts'
import { joined } from '#core/fields/parse.ts'
import { get, post, sentence } from '#web/api/client.ts'
import { writtenFields } from '#web/fields/read.ts'
import { useKnown } from '#web/fields/useKnown.ts'
import { sayPatch } from '#web/fields/versions.ts'
import { plural, sayDate, sayMinutes } from './say.ts'
import { deedsFor, type Deed } from './deeds.ts'
import StateBar from './StateBar.vue'
import { useFindBox } from '#web/state/findBox.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSelection } from '#web/state/selection.ts'
import { useSession } from '#web/state/session.ts'
import { useTasks } from '#web/state/tasks.ts'

/**
 * One box: find by words, go anywhere, do something with what is marked, or note a task in one
 * line.
 */
const box = useFindBox()
const session = useSession()
const selection = useSelection()
const messages = useMessages()
const tasks = useTasks()
const router = useRouter()
const route = useRoute()
const text = ref('')
const at = ref(0)
const found = ref<Found[]>([])
const asking = ref(false)
const field = ref<HTMLInputElement | null>(null)
let turn = 0

watch(
  () => box.open,
  async (on) => {
    if (!on) return
    text.value = box.start
    found.value = []
    at.value = 0
    await nextTick()
    setTimeout(() => field.value?.focus(), 20)
  },
)
/**
 * Enter pressed before the answer was there: the first line is taken when it is, but nothing is
 * noted by haste.
 */
const hasty = ref(false)
watch(asking, (on) => {
  if (on || !hasty.value) return
  hasty.value = false
  void nextTick(() => {
    if (lines.value[0]?.key !== 'note') void run(lines.value[0])
  })
})
/** Shows what was found; the line that is chosen stays so, wherever it goes. */
function show(answer: Found[]): void {
  const chosen = at.value > 0 ? lines.value[at.value]?.key : undefined
  found.value = answer
  const place = chosen === undefined ? -1 : lines.value.findIndex(({ key }) => key === chosen)
  at.value = Math.max(0, place)
}
const ask = useDebounceFn(async (words: string) => {
  const mine = ++turn
  const sought = `words=${encodeURIComponent(words)}`
  try {
    // Titles, newest first, until everything has been looked at in its order.
    const first = get<Found[]>(`/find/first?${sought}`).then(
      (answer) => {
        if (mine === turn && asking.value && answer.length) show(answer)
      },
      () => undefined,
    )
    const answer = await get<Found[]>(`/find?${sought}`)
    if (mine === turn) show(answer)
    await first
  } catch (error) {
    if (mine !== turn) return
    hasty.value = false
    messages.fault(sentence(error))
  } finally {
    if (mine === turn) asking.value = false
  }
}, 90)
watch(text, (words) => {
  at.value = 0
  hasty.value = false
  if (words.trim().length < 2 && !/^#?\d+$/.test(words.trim()))
    return void (turn++, (found.value = []), (asking.value = false))
  asking.value = true
  void ask(words.trim())
})

const known = useKnown(() => ({ of: 'firm' }))
const understood = computed((): Captured =>
  capture(
    text.value,
    {
      people: session.active.map((p) => ({ id: p.id, names: [p.name, p.name.split(' ')[0]!] })),
      clients: session.directory.clients.map((c) => ({ id: c.id, names: [c.name, c.short] })),
      projects: session.directory.projects.map((p) => ({ id: p.id, names: [p.name] })),
      tags: session.directory.tags.map((t) => ({ id: t.id, names: [t.name] })),
      fields: writtenFields(known.value),
    },
    session.today as IsoDate,
  ),
)
const here = computed(() => (/^\/work\/\d+$/.test(route.path) ? Number(route.path.slice(6)) : null))
const saysMore = computed(() => {
  const c = understood.value
  const name = (list: readonly { id: number; name: string }[], id: number) =>
    list.find((x) => x.id === id)?.name ?? ''
  return [
    c.clientId ? name(session.directory.clients, c.clientId) : '',
    c.projectId
      ? name(session.directory.projects, c.projectId)
      : here.value && !c.clientId
        ? name(session.directory.projects, here.value)
        : '',
    c.due ? `due ${sayDate(c.due, session.today)}${c.time ? `, ${c.time}` : ''}` : '',
    c.estimate ? sayMinutes(c.estimate) : '',
    c.priority ? PRIORITY_NAMES[c.priority] : '',
    c.people.length ? c.people.map((id) => name(session.active, id)).join(' and ') : 'on you',
    ...c.tags.map((id) => `#${name(session.directory.tags, id)}`),
    ...c.edits.map((edit) => sayPatch(known.value, edit)),
  ]
    .filter(Boolean)
    .join(' · ')
})

interface Line {
  key: string
  name: string
  more: string
  run: () => unknown
  task?: FoundTask
}
const KINDS = {
  project: 'project',
  client: 'client',
  person: 'person',
  view: 'view',
  template: 'template',
  series: 'series',
  rule: 'rule',
} as const
const PATHS = {
  project: '/work/',
  client: '/work/client/',
  person: '/work/person/',
  view: '/work/view/',
  template: '/clockwork/templates/',
  series: '/clockwork/series/',
  rule: '/clockwork/rules/',
} as const
const go = (to: string) => () => router.push(to)
const openTask = (id: number) => () =>
  router.push(
    /^\/(today|work)/.test(route.path)
      ? { path: route.path, query: { ...route.query, task: String(id) } }
      : { path: '/today', query: { task: String(id) } },
  )
/** What deeds are done to: everything marked, else the task that is open. */
const targets = computed(() =>
  selection.count
    ? [...selection.marked]
    : Number(route.query['task'])
      ? [Number(route.query['task'])]
      : [],
)
/** The set of states that all of them use, as far as their rows are here. */
const setId = computed(() => {
  const sets = new Set(
    targets.value.map((id) => {
      const row = tasks.rows.get(id)
      return row
        ? row.project
          ? (session.directory.projects.find((p) => p.id === row.project!.id)?.stateSetId ?? 1)
          : 1
        : null
    }),
  )
  return sets.size === 1 ? [...sets][0]! : null
})
async function act(deed: Deed): Promise<void> {
  const done = await post<{ count: number }>('/tasks/bulk', { ids: targets.value, ...deed.body })
  if (done.count) messages.did(`${plural(done.count, 'task')} changed. ${deed.name}.`, done)
  else messages.say('Nothing needed changing.')
}
const places = computed((): Line[] =>
  [
    ['Today', '/today'],
    ['Projects', '/work'],
    ['All work', '/work/all'],
    ['Bring in tasks', '/work/bring-in'],
    ['Journal', '/work/journal'],
    ['Set up: states, fields, tags', '/work/set-up'],
    ['Notices', '/notices'],
    ['Keys', '/keys'],
    ...(session.me?.may.member
      ? [
          ['Templates', '/clockwork/templates'],
          ['Series', '/clockwork/series'],
          ['Rules', '/clockwork/rules'],
          ['Run log', '/clockwork/log'],
        ]
      : []),
  ].map(([name, to]) => ({ key: to!, name: name!, more: 'go there', run: go(to!) })),
)
const deeds = computed((): Line[] => {
  const open = Number(route.query['task'])
  const on = selection.count ? plural(selection.count, 'task marked', 'tasks marked') : `#${open}`
  const change =
    targets.value.length && session.me?.may.member
      ? deedsFor(known.value, session.me.id, setId.value, text.value)
      : []
  return [
    ...change
      .filter((d) => d.key.startsWith('w-') || fits(d.name))
      .map((d): Line => ({ key: `d-${d.key}`, name: d.name, more: on, run: () => act(d) })),
    ...[
      ...(selection.count
        ? [{ key: 'b-none', name: 'Unmark all', more: on, run: () => selection.clear() }]
        : []),
      ...(open && session.me?.may.member
        ? [
            {
              key: 't-mark',
              name: `${selection.has(open) ? 'Unmark' : 'Mark'} task #${open}`,
              more: '',
              run: () => selection.toggle(open),
            },
            {
              key: 't-print',
              name: `Print task #${open}`,
              more: '',
              run: () => window.open(`/print/task/${open}`, '_blank'),
            },
          ]
        : []),
      {
        key: 'a-out',
        name: 'Sign out',
        more: 'leave',
        run: async () => {
          await session.signOut()
          await router.push('/door')
        },
      },
    ].filter((l) => fits(l.name)),
  ].slice(0, 8)
})
const fits = (name: string) =>
  text.value
    .trim()
    .toLowerCase()
    .split(/\s+/)
    .every((w) => name.toLowerCase().includes(w))
const taskLine = (task: FoundTask, excerpt: string | null): Line => ({
  key: `t${task.id}`,
  name: task.title,
  more: [`#${task.id}`, task.client, task.due ? sayDate(task.due, session.today) : '', excerpt]
    .filter(Boolean)
    .join(' · '),
  run: openTask(task.id),
  task,
})
const hits = computed(() =>
  found.value.flatMap((f) => (f.kind === 'task' ? [taskLine(f.task, f.excerpt)] : [])),
)
const others = computed(() =>
  found.value.flatMap((f): Line[] => {
    if (f.kind === 'task') return []
    const { kind, id, name } = f
    return [{ key: `${kind}${id}`, name, more: KINDS[kind], run: go(`${PATHS[kind]}${id}`) }]
  }),
)
const note = computed((): Line[] => {
  if (!text.value.trim() || !session.me?.may.member) return []
  const name = understood.value.title || '(a title is missing)'
  return [{ key: 'note', name, more: saysMore.value, run: noteIt }]
})
const doing = computed(() => {
  if (text.value.trim()) return deeds.value
  return targets.value.length ? deeds.value.slice(0, 6) : []
})
const sections = computed((): { name: string; lines: Line[] }[] => {
  const goTo = text.value.trim()
    ? places.value.filter((l) => fits(l.name))
    : places.value.slice(0, 4)
  const found = [
    { name: 'Tasks', lines: hits.value },
    { name: 'Elsewhere', lines: others.value },
    { name: 'Go to', lines: goTo },
  ]
  const deed = { name: 'Do', lines: doing.value }
  // With tasks marked, doing something with them comes first.
  const ordered = selection.count ? [deed, ...found] : [...found, deed]
  return [
    ...(box.noting ? [{ name: 'Note it', lines: note.value }] : []),
    ...ordered,
    ...(box.noting ? [] : [{ name: 'Note it as a task', lines: note.value }]),
  ].filter((section) => section.lines.length)
})
const lines = computed(() => sections.value.flatMap((s) => s.lines))
async function noteIt(): Promise<void> {
  const c = understood.value
  if (!c.title)
    return messages.fault('Say what is to be done; dates, people and lengths alone are no task.')
  const projectId = c.projectId ?? (c.clientId ? null : here.value)
  const set = c.edits.reduce<TaskPatch>((all, edit) => joined(all, edit), {})
  const task = await post<TaskSheet>('/tasks', {
    title: c.title.slice(0, 200),
    due: c.due,
    dueTime: c.time,
    ...(c.estimate !== null && { estimate: c.estimate }),
    ...(c.priority && { priority: c.priority }),
    ...(projectId ? { projectId } : c.clientId ? { clientId: c.clientId } : {}),
    assignees: c.people.length ? [...c.people] : [session.me!.id],
    tags: [...c.tags],
    ...set,
  })
  messages.did(`Noted as #${task.id}: “${task.title}”.`, task)
}
async function run(line: Line | undefined): Promise<void> {
  if (!line) return
  try {
    await line.run()
    box.close()
  } catch (error) {
    messages.fault(sentence(error))
  }
}
function key(event: KeyboardEvent): void {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
  if (step) {
    event.preventDefault()
    at.value = (at.value + step + lines.value.length) % Math.max(1, lines.value.length)
    void nextTick(() => document.querySelector('.finds .at')?.scrollIntoView({ block: 'nearest' }))
  } else if (event.key === 'Enter') {
    event.preventDefault()
    if (event.ctrlKey || event.metaKey) void run(lines.value.find((l) => l.key === 'note'))
    else if (asking.value && at.value === 0 && !box.noting) hasty.value = true
    else void run(lines.value[at.value])
  }
}
/** Whether somebody is typing there, so that letters are theirs. */
const typesIn = (on: HTMLElement): boolean =>
  on.isContentEditable ||
  (/^(INPUT|TEXTAREA|SELECT)$/.test(on.tagName) && (on as HTMLInputElement).type !== 'checkbox') ||
  on.closest('[role="grid"].cells') !== null
/** Keys that hold anywhere; the letters among them where nobody is typing. */
const ANYWHERE: Readonly<Record<string, () => void>> = {
  '/': () => box.show(),
  n: () => session.me?.may.member && box.show('', true),
  '?': () => void router.push('/keys'),
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (box.open || !session.me || event.defaultPrevented || event.altKey) return
  const control = event.ctrlKey || event.metaKey
  const named = control || typesIn(event.target as HTMLElement) ? undefined : ANYWHERE[event.key]
  const then = control && event.key === 'k' ? () => box.show() : named
  if (!then) return
  event.preventDefault()
  then()
})
</script>

<template>
  <v-dialog
    :model-value="box.open"
    max-width="660"
    class="findbox"
    @update:model-value="box.close()"
  >
    <div class="dialog finds" role="dialog" aria-label="Find, go, do or note" @keydown="key">
      <input
        ref="field"
        v-model="text"
        class="inp big"
        maxlength="300"
        role="combobox"
        aria-expanded="true"
        aria-controls="finds"
        :aria-activedescendant="lines[at] ? `f-${lines[at]!.key}` : undefined"
        :aria-label="box.noting ? 'Note a task in one line' : 'Find, go, do or note'"
        :placeholder="
          box.noting
            ? 'Chase statements Mossgate fri 3pm 30m urgent'
            : 'Words, a number, a place, or a task in one line'
        "
        autocomplete="off"
        spellcheck="false"
      />
      <div id="finds" role="listbox" aria-label="What there is" class="opts">
        <template v-for="s in sections" :key="s.name">
          <p v-if="s.name" class="sec" role="presentation">{{ s.name }}</p>
          <button
            v-for="line in s.lines"
            :id="`f-${line.key}`"
            :key="line.key"
            type="button"
            role="option"
            :aria-selected="lines[at] === line"
            :class="{ at: lines[at] === line }"
            tabindex="-1"
            @mousemove="at = lines.indexOf(line)"
            @click="run(line)"
          >
            <StateBar
              v-if="line.task"
              :state="line.task.state"
              :colour="line.task.stateColour"
              :name="line.task.stateName"
            />
            <span class="nm">{{ line.name }}</span>
            <span class="small quiet mo">{{ line.more }}</span>
          </button>
        </template>
        <p v-if="text.trim() && !lines.length" class="quiet pad">
          {{ asking ? 'Looking…' : 'Nothing of that.' }}
        </p>
      </div>
      <p class="small quiet foot">
        ↑ ↓ to choose, Enter to take it, Ctrl+Enter notes the line as a task, Esc closes.
      </p>
    </div>
  </v-dialog>
</template>

<style scoped>
.finds {
  padding: 10px;
}
.big {
  font-size: 16px;
  min-height: 40px;
}
.opts {
  max-height: 56dvh;
  overflow: auto;
  margin-top: 6px;
}
.sec {
  font: 600 12px var(--sans);
  color: var(--ink-3);
  padding: 8px 8px 2px;
}
.opts button {
  display: flex;
  gap: 9px;
  align-items: center;
  width: 100%;
  padding: 5px 8px;
  border-radius: 3px;
  text-align: left;
}
.at {
  background: var(--fern-wash);
}
.nm {
  font-weight: 550;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  flex: 0 1 auto;
  max-width: 62%;
}
.mo {
  flex: 1;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.pad {
  padding: 8px;
}
.foot {
  padding: 6px 8px 0;
  border-top: 1px solid var(--rule);
  margin-top: 6px;
}
</style>
