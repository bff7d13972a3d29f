<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { ChangeRow, Undone } from '#contract/journal.ts'
import { sayUndone } from '#web/parts/say.ts'
import { get, post } from '#web/api/client.ts'
import { plural } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
import DayRows from '#web/parts/DayRows.vue'
import { useNarrowing } from '#web/parts/useNarrowing.ts'
import { useRoving } from '#web/parts/useRoving.ts'
import WorkNav from './WorkNav.vue'
import { withNone } from '#web/parts/choices.ts'

/**
 * Every change of the firm or of one project, newest first, each of which can be taken back whole.
 */
interface Page {
  changes: ChangeRow[]
  next: number | null
}
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const { text, number, narrow } = useNarrowing()
const project = computed(() => number('project') || null)
const client = computed(() => number('client') || null)
const who = computed(() => text('who'))
const kind = computed(() => text('kind'))
const asked = computed(() => {
  const query = new URLSearchParams()
  if (project.value) query.set('projectId', String(project.value))
  if (client.value) query.set('clientId', String(client.value))
  if (who.value === 'itself') query.set('itself', 'true')
  else if (who.value) query.set('personId', who.value)
  if (kind.value) query.set('kind', kind.value)
  return query
})
const path = computed(() => `/changes?${asked.value.toString()}`)
const KINDS = [
  { value: '', title: 'of every kind' },
  { value: 'work', title: 'of tasks' },
  { value: 'talk', title: 'of comments and files' },
  { value: 'projects', title: 'of projects and phases' },
  { value: 'clockwork', title: 'of templates, series and rules' },
  { value: 'set-up', title: 'of what is set up' },
]
const people = computed(() => [
  { value: '', title: 'by everybody' },
  { value: 'itself', title: 'by rules and series' },
  ...session.directory.people.map((p) => ({ value: String(p.id), title: `by ${p.name}` })),
])
const { data, error, reload } = useResource<Page>(() => path.value)
/** All that was ever shown here, by change: newer pages push nothing out between older ones. */
const known = ref(new Map<number, ChangeRow>())
const rows = computed(() => [...known.value.values()].sort((a, b) => b.change - a.change))
/** Where earlier changes go on; undefined until the first page is here. */
const next = ref<number | null>()
function take(page: Page): void {
  for (const row of page.changes) {
    known.value.set(row.change, row)
    const back = row.undoes === null ? undefined : known.value.get(row.undoes)
    if (back) known.value.set(back.change, { ...back, undone: true, mayUndo: false })
  }
}
watch(path, () => {
  known.value = new Map()
  next.value = undefined
})
watch(
  data,
  (page) => {
    if (!page) return
    take(page)
    if (next.value === undefined) next.value = page.next
  },
  { immediate: true },
)
const more = () =>
  attempt(async () => {
    const page = await get<Page>(`${path.value}&before=${next.value}`)
    take(page)
    next.value = page.next
  })
/** Running projects, and a closed one whose journal this is. */
const choices = computed(() => [
  ...session.directory.projects,
  ...session.visited.filter((p) => p.id === project.value),
])
const lines = ref<HTMLElement | null>(null)
useRoving(lines, '.change')
const undo = (change: ChangeRow) =>
  attempt(async () => {
    const done = await post<Undone>(`/changes/${change.change}/undo`)
    messages.did(sayUndone(done), done)
    await reload()
  })
</script>

<template>
  <WorkNav />
  <main class="page wide">
    <div class="sheet">
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <template v-else>
        <h1>Journal</h1>
        <p class="sub">
          Every change, newest first. One line is one change, however many tasks it touched, and is
          taken back as one.
        </p>
        <div class="narrowing">
          <v-autocomplete
            aria-label="Project"
            :model-value="project ?? ''"
            :items="withNone(choices, 'in every project', '')"
            @update:model-value="narrow('project', $event)"
          />
          <v-autocomplete
            aria-label="Client"
            :model-value="client ?? ''"
            :items="withNone(session.directory.clients, 'for every client', '')"
            @update:model-value="narrow('client', $event)"
          />
          <v-autocomplete
            aria-label="Who"
            :model-value="who"
            :items="people"
            @update:model-value="narrow('who', $event)"
          />
          <v-autocomplete
            aria-label="What"
            :model-value="kind"
            :items="KINDS"
            @update:model-value="narrow('kind', $event)"
          />
        </div>
        <div v-if="!rows.length" class="empty">
          <h3>{{ asked.size ? 'Nothing of that kind' : 'Nothing was changed yet' }}</h3>
          <p v-if="!asked.size">Whatever anybody or any rule does is written down here.</p>
        </div>
        <div v-else ref="lines" data-work>
          <DayRows v-slot="{ row: c, time }" :rows="rows" :key-of="(c) => c.change" of="change">
            <div class="change" :class="{ gone: c.undone }">
              <span class="quiet">{{ time }}</span>
              <span class="who" :class="{ auto: c.automatic }">{{ c.who }}</span>
              <span class="what">
                <span v-if="c.undoes" class="tint c-slate">takes back</span>
                {{ ` ${c.lines.join('. ')} ` }}
                <span v-if="c.tasks > 1" class="quiet">· {{ plural(c.tasks, 'task') }}</span>
              </span>
              <span v-if="c.undone" class="small quiet">taken back</span>
              <v-btn
                v-else-if="c.mayUndo"
                variant="text"
                :aria-label="`Undo the change of ${session.sayAt(c.at)} by ${c.who}`"
                @click="undo(c)"
              >
                Undo
              </v-btn>
            </div>
          </DayRows>
        </div>
        <p v-if="next" class="btns"><v-btn @click="more">Earlier changes</v-btn></p>
      </template>
    </div>
  </main>
</template>

<style scoped>
.change {
  display: grid;
  grid-template-columns: 44px 150px minmax(0, 1fr) auto;
  gap: 0 10px;
  align-items: baseline;
  min-height: 32px;
  padding: 3px 0;
  border-bottom: 1px solid var(--rule);
}
.who {
  justify-self: start;
}
.what {
  overflow-wrap: anywhere;
}
.gone {
  color: var(--ink-3);
}
/* Where there is little room, when and who stand above what. */
@media (max-width: 700px) {
  .change {
    grid-template-columns: auto 1fr auto;
  }
  .what {
    grid-area: 2 / 1 / auto / -1;
  }
}
</style>
