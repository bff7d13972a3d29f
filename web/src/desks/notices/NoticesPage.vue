<script setup lang="ts">
import type { NoticeRow } from '#contract/desks.ts'
import type { ItemKind } from '#contract/words.ts'
import { post } from '#web/api/client.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
import NoticeTabs from './NoticeTabs.vue'

const session = useSession()
const { attempt } = useAttempt()
const { data, error, reload } = useResource<NoticeRow[]>(() => '/notices')
const KINDS: Record<NoticeRow['kind'], string> = {
  reminder: 'Reminder',
  escalation: 'Escalation',
  assigned: 'Given to you',
  comment: 'Comment',
  rule: 'Rule',
  mention: 'Mentioned',
  follow: 'You follow it',
}
/** Where the things that notices are about are opened. */
const PLACES: Partial<Record<ItemKind, { at: string; name: string }>> = {
  task: { at: '/today?task=', name: 'Open the task' },
  project: { at: '/work/', name: 'Open the project' },
  rule: { at: '/clockwork/rules/', name: 'Open the rule' },
  series: { at: '/clockwork/series/', name: 'Open the series' },
}
const read = (id: number | null) =>
  attempt(async () => {
    await post('/notices/read', { id })
    await Promise.all([reload(), session.read()])
  })
</script>

<template>
  <main>
    <NoticeTabs>
      <v-btn v-if="data?.some((n) => !n.readAt)" @click="read(null)">Mark all as read</v-btn>
    </NoticeTabs>
    <div class="sheet narrow">
      <h1>What Fernwick told you</h1>
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <div v-else-if="!data.length" class="empty">
        <h3>Nothing yet</h3>
        <p>Reminders, escalations, work given to you and comments on it are kept here.</p>
      </div>
      <div v-for="n in data ?? []" :key="n.id" class="note one" :class="{ fresh: !n.readAt }">
        <div class="k">
          <span>{{ KINDS[n.kind] }}</span>
          <span>{{ session.sayAt(n.at) }}</span>
        </div>
        <p>{{ n.body }}</p>
        <div class="btns">
          <v-btn
            v-if="n.item && PLACES[n.item.kind]"
            :to="`${PLACES[n.item.kind]!.at}${n.item.id}`"
            @click="!n.readAt && read(n.id)"
          >
            {{ PLACES[n.item.kind]!.name }}
          </v-btn>
          <v-btn variant="text" v-if="!n.readAt" @click="read(n.id)">Mark as read</v-btn>
        </div>
      </div>
    </div>
  </main>
</template>

<style scoped>
.narrow {
  max-width: 760px;
}
h1 {
  margin-bottom: 12px;
}
.one {
  padding-left: 12px;
}
.fresh {
  box-shadow: inset 3px 0 var(--marigold);
}
.fresh p {
  font-weight: 550;
}
</style>
