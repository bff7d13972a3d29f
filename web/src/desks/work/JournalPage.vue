<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ChangeRow, Undone } from '#contract/journal.ts'
import { sayUndone } from '#web/parts/say.ts'
import { get, post } from '#web/api/client.ts'
import { plural } from '#web/parts/say.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
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
const route = useRoute()
const router = useRouter()
const project = computed(() => Number(route.query['project']) || null)
const path = computed(() => (project.value ? `/changes?projectId=${project.value}` : '/changes'))
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
    const page = await get<Page>(`${path.value}${project.value ? '&' : '?'}before=${next.value}`)
    take(page)
    next.value = page.next
  })
/** Running projects, and a closed one whose journal this is. */
const choices = computed(() => [
  ...session.directory.projects,
  ...session.visited.filter((p) => p.id === project.value),
])
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
        <div class="field of">
          <label for="jo-of">Changes of</label>
          <v-autocomplete
            id="jo-of"
            :model-value="project ?? ''"
            @update:model-value="
              router.replace({
                query: $event ? { project: $event } : {},
              })
            "
            :items="withNone(choices, 'everything', '')"
          />
        </div>
        <div v-if="!rows.length" class="empty">
          <h3>Nothing was changed yet</h3>
          <p>Whatever anybody or any rule does is written down here.</p>
        </div>
        <v-table v-else class="changes">
          <thead>
            <tr>
              <th>When</th>
              <th>Who</th>
              <th>What</th>
              <th><span class="sr">Undo</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="c in rows" :key="c.change" :class="{ gone: c.undone }">
              <td class="nw">{{ session.sayAt(c.at) }}</td>
              <td class="nw">
                <span :class="{ auto: c.automatic }">{{ c.who }}</span>
              </td>
              <td>
                <span v-if="c.undoes" class="tint c-slate">takes back</span>
                {{ ` ${c.lines.join('; ')} ` }}
                <span v-if="c.tasks > 1" class="quiet">· {{ plural(c.tasks, 'task') }}</span>
              </td>
              <td class="nw">
                <span v-if="c.undone" class="small quiet">taken back</span>
                <v-btn
                  v-else-if="c.mayUndo"
                  :aria-label="`Undo the change of ${session.sayAt(c.at)} by ${c.who}`"
                  @click="undo(c)"
                >
                  Undo
                </v-btn>
              </td>
            </tr>
          </tbody>
        </v-table>
        <p v-if="next" class="btns"><v-btn @click="more">Earlier changes</v-btn></p>
      </template>
    </div>
  </main>
</template>

<style scoped>
.of label {
  white-space: nowrap;
}
.of {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 8px 0;
}
.of .v-input {
  width: auto;
  max-width: 340px;
}
/* Where there is little room, when and who stand above what. */
@media (max-width: 700px) {
  .changes :deep(table),
  .changes tbody {
    display: block;
  }
  .changes thead {
    display: none;
  }
  .changes tr {
    display: grid;
    grid-template-columns: auto 1fr auto;
    gap: 2px 12px;
    align-items: center;
    padding: 8px 0;
    border-bottom: 1px solid var(--rule);
  }
  .changes td {
    padding: 0;
    border: 0;
  }
  .changes td:nth-child(3) {
    grid-area: 2 / 1 / auto / -1;
    overflow-wrap: anywhere;
  }
  .changes td:nth-child(4) {
    grid-area: 1 / 3;
  }
  .of .v-input {
    width: 100%;
  }
}
.nw {
  white-space: nowrap;
}
.gone td {
  color: var(--ink-3);
}
</style>
