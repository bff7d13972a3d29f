<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Undone } from '#contract/journal.ts'
import type { RunEntry } from '#contract/rules.ts'
import { post } from '#web/api/client.ts'
import { sayUndone } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** One run: what was done or not, and, opened, why. */
const { run } = defineProps<{
  run: RunEntry
  /** Under a day: the time alone; else the moment is said. */
  time?: string
  /** Among the runs of one rule: it is not named again. */
  compact?: boolean
}>()
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const gone = ref(false)
const undone = computed(() => run.undone || gone.value)
/** Takes back all that it did; what stays of it, or has left by mail, is said. */
const undo = () =>
  attempt(async () => {
    messages.say(sayUndone(await post<Undone>(`/changes/${run.change}/undo`)))
    gone.value = true
  })
const open = ref(false)
const NAMES = { done: 'Done', skipped: 'Skipped', failed: 'Failed' }
</script>

<template>
  <div class="run" :class="{ compact }">
    <span class="at quiet">{{ time ?? session.sayAt(run.at) }}</span>
    <span
      class="how"
      :class="{ ochre: run.outcome === 'skipped', alarm: run.outcome === 'failed' }"
    >
      {{ NAMES[run.outcome] }}
    </span>
    <span class="what">
      <b>{{ run.summary }}</b>
      <template v-if="run.times > 1">, {{ run.times }} times,</template>
      {{ ' ' }}
      <v-btn variant="plain" v-if="run.task" :to="`/today?task=${run.task.id}`">
        {{ run.task.title }}
      </v-btn>
      {{ run.task && run.project ? ' · ' : '' }}
      <v-btn variant="plain" v-if="run.project" class="quiet" :to="`/work/${run.project.id}`">
        {{ run.project.name }}
      </v-btn>
      <template v-if="!compact">
        {{ ' ' }}
        <v-btn
          variant="plain"
          v-if="run.rule"
          class="quiet by"
          :to="`/clockwork/rules/${run.rule.id}`"
        >
          {{ run.rule.name }}
        </v-btn>
        <v-btn
          variant="plain"
          v-else-if="run.series"
          class="quiet by"
          :to="`/clockwork/series/${run.series.id}`"
        >
          {{ run.series.name }}
        </v-btn>
      </template>
    </span>
    <span class="deeds">
      <v-btn variant="plain" class="auto" :aria-expanded="open" @click="open = !open">
        {{ run.outcome === 'done' ? 'why' : 'why not' }}
      </v-btn>
      <span v-if="undone" class="small quiet">taken back</span>
      <v-btn
        v-else-if="run.change !== null && run.outcome === 'done' && session.me?.may.structure"
        variant="text"
        :aria-label="`Undo: ${run.summary}`"
        @click="undo"
      >
        Undo
      </v-btn>
    </span>
    <ul v-if="open">
      <li v-for="(r, i) in run.reasons" :key="i">{{ r }}</li>
    </ul>
  </div>
</template>

<style scoped>
.run {
  display: grid;
  grid-template-columns: auto 58px minmax(0, 1fr) auto;
  gap: 0 10px;
  align-items: baseline;
  padding: 3px 0;
  min-height: 32px;
  border-bottom: 1px solid var(--rule);
}
.compact {
  grid-template-columns: auto auto minmax(0, 1fr);
}
.compact .what {
  grid-area: 2 / 1 / auto / -1;
}
.compact .deeds {
  justify-self: end;
}
.at {
  min-width: 40px;
  white-space: nowrap;
}
.how {
  font-weight: 600;
  font-size: 12.5px;
}
.what {
  overflow-wrap: anywhere;
}
.what b {
  font-weight: 550;
}
.by {
  border-left: 1px solid var(--rule-strong);
  padding-left: 8px;
  margin-left: 4px;
}
.run a:hover {
  text-decoration: underline;
}
.deeds {
  display: flex;
  align-items: center;
  gap: 8px;
}
.deeds .auto {
  min-width: 24px;
  min-height: 24px;
}
ul {
  grid-column: 3 / -1;
  margin: 2px 0 4px;
  padding-left: 18px;
  color: var(--ink-2);
  font-size: 12.5px;
}
@media (max-width: 700px) {
  .run {
    grid-template-columns: auto 1fr auto;
  }
  .what,
  ul {
    grid-column: 1 / -1;
    grid-row: 2;
  }
  ul {
    grid-row: 3;
  }
}
</style>
