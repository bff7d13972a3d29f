<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Undone } from '#contract/journal.ts'
import type { RunDetail, RunEntry } from '#contract/rules.ts'
import { post } from '#web/api/client.ts'
import { sayUndone } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'

/** One run: what was done or not, and, opened, why. */
const { run } = defineProps<{
  run: RunEntry
  /** Under a day: the time alone; else the moment is said. */
  time?: string
  /** Among the runs of one rule: it is not named again. */
  compact?: boolean
}>()
const emit = defineEmits<{ again: [] }>()
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
/** What led to it, what it changed, whom it told: asked for when it is opened. */
const { data: detail } = useResource<RunDetail>(
  () => (open.value ? `/runs/${run.id}` : null),
  () => false,
)
/** Runs the same rule on the same thing once more, as both are now. */
const again = () =>
  attempt(async () => {
    const done = await post<RunEntry>(`/runs/${run.id}/again`)
    messages.say(`${done.summary}.`)
    emit('again')
  })
const MAIL = { waiting: 'waits to be sent', sent: 'sent', failed: 'could not be sent' }
const took = (microseconds: number) =>
  microseconds < 1_000 ? 'under a millisecond' : `${Math.round(microseconds / 1_000)} ms`
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
    <div v-if="open" class="whole">
      <dl class="facts">
        <template v-if="detail?.cause.length">
          <dt>Led to by</dt>
          <dd v-for="(line, i) in detail.cause" :key="i">{{ line }}</dd>
        </template>
        <dt>{{ run.outcome === 'done' ? 'Why' : 'Why not' }}</dt>
        <dd v-for="(r, i) in run.reasons" :key="i">{{ r }}</dd>
        <template v-if="detail?.changes.length">
          <dt>Changed</dt>
          <dd v-for="(line, i) in detail.changes" :key="i">{{ line }}</dd>
        </template>
        <template v-if="detail?.told.length">
          <dt>Told</dt>
          <dd v-for="(one, i) in detail.told" :key="i">{{ one.person }}: “{{ one.text }}”</dd>
        </template>
        <template v-if="detail?.mail.length">
          <dt>Mail</dt>
          <dd v-for="(one, i) in detail.mail" :key="i">
            {{ one.recipient }}, “{{ one.subject }}”: {{ MAIL[one.state] }}
            {{ one.at === null ? '' : session.sayAt(one.at) }}
          </dd>
        </template>
        <template v-if="detail?.took != null">
          <dt>Took</dt>
          <dd>{{ took(detail.took) }}{{ detail.version ? `, version ${detail.version}` : '' }}</dd>
        </template>
      </dl>
      <v-btn v-if="detail?.mayAgain && session.me?.may.structure" variant="text" @click="again">
        Run again
      </v-btn>
    </div>
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
.whole {
  grid-column: 3 / -1;
  margin: 2px 0 6px;
  color: var(--ink-2);
  font-size: 12.5px;
}
.compact .whole {
  grid-column: 1 / -1;
}
.whole .facts {
  display: grid;
  grid-template-columns: 74px minmax(0, 1fr);
  gap: 1px 10px;
  margin: 0;
}
.whole dt {
  grid-column: 1;
}
.whole dd {
  grid-column: 2;
  margin: 0;
  overflow-wrap: anywhere;
}
@media (max-width: 700px) {
  .run {
    grid-template-columns: auto 1fr auto;
  }
  .what,
  .whole {
    grid-column: 1 / -1;
    grid-row: 2;
  }
  .whole {
    grid-row: 3;
  }
}
</style>
