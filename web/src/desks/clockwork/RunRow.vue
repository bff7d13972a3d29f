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
const { run } = defineProps<{ run: RunEntry; compact?: boolean }>()
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
  <div class="note run">
    <div class="k">
      <span :class="{ ochre: run.outcome === 'skipped', alarm: run.outcome === 'failed' }">
        {{ NAMES[run.outcome] }}
        <template v-if="!compact && (run.rule || run.series)">
          · {{ run.rule?.name ?? run.series?.name }}
        </template>
      </span>
      <span>{{ session.sayAt(run.at) }}</span>
    </div>
    <p>
      <b>{{ run.summary }}</b>
      <br />
      <v-btn variant="plain" v-if="run.task" :to="`/today?task=${run.task.id}`">
        {{ run.task.title }}
      </v-btn>
      {{ run.task && run.project ? ' · ' : '' }}
      <v-btn variant="plain" v-if="run.project" class="quiet" :to="`/work/${run.project.id}`">
        {{ run.project.name }}
      </v-btn>
    </p>
    <div class="deeds">
      <v-btn variant="plain" class="auto" :aria-expanded="open" @click="open = !open">
        {{ run.outcome === 'done' ? 'why' : 'why not' }}
      </v-btn>
      <span v-if="undone" class="small quiet">taken back</span>
      <v-btn
        v-else-if="run.change !== null && run.outcome === 'done' && session.me?.may.structure"
        variant="text"
        size="small"
        :aria-label="`Undo: ${run.summary}`"
        @click="undo"
      >
        Undo
      </v-btn>
    </div>
    <ul v-if="open">
      <li v-for="(r, i) in run.reasons" :key="i">{{ r }}</li>
    </ul>
  </div>
</template>

<style scoped>
.run p {
  margin-bottom: 2px;
}
.deeds {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 28px;
  margin-top: 6px;
}
.deeds .auto {
  min-width: 24px;
}
.run a:hover {
  text-decoration: underline;
}
ul {
  margin: 4px 0 0;
  padding-left: 18px;
  color: var(--ink-2);
  font-size: 12.5px;
}
</style>
