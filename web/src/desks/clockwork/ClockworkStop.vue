<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Clockwork, RuleSwitch } from '#contract/rules.ts'
import { put } from '#web/api/client.ts'
import { plural } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'

/** Stops all that happens by itself; while it is stopped, says so, and what is held back. */
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const may = computed(() => session.me?.may.structure ?? false)
const { data: clockwork, reload } = useResource<Clockwork>(
  () => (session.me?.may.member ? '/clockwork' : null),
  (c) => c.entities.includes('firm'),
  { keep: true },
)
const asking = ref<'stop' | 'start' | null>(null)
const stopped = computed(() => clockwork.value?.stoppedAt ?? null)
const SAID: Readonly<Record<string, readonly [one: string, many: string]>> = {
  ladder: ['rung of late work', 'rungs of late work'],
  dated: ['date of a rule', 'dates of rules'],
  series: ['series is due', 'series are due'],
  check: ['rule that looks what became true', 'rules that look what became true'],
  wait: ['run that waited', 'runs that waited'],
  repeat: ['daily reminder', 'daily reminders'],
  again: ['daily reminder of a rule', 'daily reminders of rules'],
  reminder: ['reminder', 'reminders'],
}
const held = computed(() => [
  ...Object.entries(clockwork.value?.due ?? {}).flatMap(([kind, count]) => {
    const words = SAID[kind]
    return words && count ? [plural(count, ...words)] : []
  }),
  ...(clockwork.value?.rules ?? []).map(
    ({ name, count }) => `“${name}” would have acted ${plural(count, 'time')}`,
  ),
])
/** What was held back is asked anew while it is read. */
function open(what: 'stop' | 'start'): void {
  asking.value = what
  void reload()
}
async function turn(to: RuleSwitch): Promise<void> {
  asking.value = null
  await attempt(async () => {
    const done = await put<Clockwork>('/clockwork', to)
    messages.did(to.on ? 'Everything automatic goes on.' : 'Everything automatic is stopped.', done)
    await reload()
  })
}
</script>

<template>
  <div v-if="stopped" class="stopped" role="status">
    <b>Everything automatic is stopped</b>
    since {{ session.sayAt(stopped) }}: no rule, series or reminder does anything.
    <v-btn v-if="may" variant="text" @click="open('start')">Start it again</v-btn>
  </div>
  <v-btn v-else-if="may && clockwork" variant="text" class="small" @click="open('stop')">
    Stop everything automatic
  </v-btn>
  <v-dialog :model-value="asking !== null" max-width="520" @update:model-value="asking = null">
    <div class="dialog">
      <template v-if="asking === 'stop'">
        <h3>Stop everything automatic</h3>
        <p>
          No rule, ladder, reminder or series does anything until it is started again. What people
          do goes on as ever; what is held back meanwhile is told before it goes on.
        </p>
        <div class="btns">
          <v-btn variant="flat" @click="turn({ on: false })">Stop it</v-btn>
          <v-btn variant="text" @click="asking = null">Leave it</v-btn>
        </div>
      </template>
      <template v-else>
        <h3>Start it again</h3>
        <p v-if="!held.length">Nothing was held back.</p>
        <template v-else>
          <p>Held back since {{ session.sayAt(stopped ?? 0) }}:</p>
          <ul>
            <li v-for="line in held" :key="line">{{ line }}</li>
          </ul>
          <p class="small quiet">
            What rules would have done about changes is in the run log, and is not made up for.
          </p>
        </template>
        <div class="btns">
          <v-btn variant="flat" @click="turn({ on: true })">Only from now on</v-btn>
          <v-btn v-if="held.length" @click="turn({ on: true, also: true })">
            Act on what came due
          </v-btn>
          <v-btn variant="text" @click="asking = null">Leave it</v-btn>
        </div>
      </template>
    </div>
  </v-dialog>
</template>

<style scoped>
.stopped {
  background: var(--alarm-wash);
  border-bottom: 1px solid var(--alarm);
  padding: 8px 20px;
}
ul {
  margin: 6px 0 10px;
  padding-left: 18px;
}
</style>
