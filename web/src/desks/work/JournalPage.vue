<script setup lang="ts">
import { ref } from 'vue'
import type { ChangeRow } from '#contract/journal.ts'
import { get, post, sentence } from '#web/api/client.ts'
import { plural, sayInstant } from '#web/parts/say.ts'
import ViewState from '#web/parts/ViewState.vue'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { useView } from '#web/state/view.ts'
import WorkNav from './WorkNav.vue'

/** Every change, newest first, each of which can be taken back whole. */
const session = useSession()
const messages = useMessages()
const { data, error, reload } = useView<{ changes: ChangeRow[]; next: number | null }>(() => '/changes', () => true, { keep: true })
const older = ref<ChangeRow[]>([])
const next = ref<number | null | undefined>()
async function more(): Promise<void> {
  try {
    const page = await get<{ changes: ChangeRow[]; next: number | null }>(`/changes?before=${next.value ?? data.value!.next}`)
    older.value.push(...page.changes)
    next.value = page.next
  } catch (problem) {
    messages.fault(sentence(problem))
  }
}
async function undo(change: ChangeRow): Promise<void> {
  try {
    const done = await post<{ count: number }>(`/changes/${change.change}/undo`)
    messages.did(`Taken back: ${plural(done.count, 'thing')} as before.`, done)
    await reload()
  } catch (problem) {
    messages.fault(sentence(problem))
  }
}
</script>

<template>
  <WorkNav />
  <main class="page wide">
    <div class="sheet">
      <ViewState v-if="!data" :error="error" @retry="reload" />
      <template v-else>
        <h1>Journal</h1><p class="sub">Every change, newest first. One line is one change, however many tasks it touched, and is taken back as one.</p>
        <div v-if="!data.changes.length" class="empty"><h3>Nothing was changed yet</h3><p>Whatever anybody or any rule does is written down here.</p></div>
        <table v-else class="plain">
          <thead><tr><th>When</th><th>Who</th><th>What</th><th><span class="sr">Undo</span></th></tr></thead>
          <tbody>
            <tr v-for="c in [...data.changes, ...older]" :key="c.change" :class="{ gone: c.undone }">
              <td class="nw">{{ sayInstant(c.at, session.today, session.me!.zone) }}</td><td class="nw"><span :class="{ auto: c.automatic }">{{ c.who }}</span></td>
              <td><span v-if="c.undoes" class="tint c-slate">takes back</span> <template v-for="(line, i) in c.lines" :key="i"><template v-if="i">; </template>{{ line }}</template><span v-if="c.tasks > 1" class="quiet"> · {{ plural(c.tasks, 'task') }}</span></td>
              <td class="nw"><span v-if="c.undone" class="small quiet">taken back</span><button v-else-if="c.mayUndo" class="btn" :aria-label="`Undo the change of ${sayInstant(c.at, session.today, session.me!.zone)} by ${c.who}`" @click="undo(c)">Undo</button></td>
            </tr>
          </tbody>
        </table>
        <p v-if="next === undefined ? data.next : next" class="btns"><button class="btn" @click="more">Earlier changes</button></p>
      </template>
    </div>
  </main>
</template>

<style scoped>
@media (max-width: 900px) { .plain { display: block; overflow-x: auto; position: relative; } }
.nw { white-space: nowrap; } .gone td { color: var(--ink-3); }
</style>
