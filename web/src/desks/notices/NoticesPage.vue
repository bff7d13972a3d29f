<script setup lang="ts">
import { computed, ref } from 'vue'
import type { NoticeRow } from '#contract/desks.ts'
import type { ItemKind } from '#contract/words.ts'
import { post } from '#web/api/client.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
import DayRows from '#web/parts/DayRows.vue'
import { useRoving } from '#web/parts/useRoving.ts'
import NoticeTabs from './NoticeTabs.vue'

const session = useSession()
const { attempt } = useAttempt()
const { data, error, reload } = useResource<NoticeRow[]>(() => '/notices')
const KINDS: Record<NoticeRow['kind'], string> = {
  reminder: 'Reminder',
  escalation: 'Escalation',
  assigned: 'You are on it',
  comment: 'Comment',
  rule: 'Rule',
  mention: 'Mentioned',
  follow: 'You follow it',
}
/** Where the things that notices are about are opened. */
const PLACES: Partial<Record<ItemKind, string>> = {
  task: '/today?task=',
  project: '/work/',
  rule: '/clockwork/rules/',
  series: '/clockwork/series/',
}
const kind = ref<NoticeRow['kind'] | ''>('')
const fresh = ref(false)
const kinds = [
  { value: '', title: 'of every kind' },
  ...Object.entries(KINDS).map(([value, title]) => ({ value, title })),
]
const shown = computed(() =>
  (data.value ?? []).filter(
    (n) => (!kind.value || n.kind === kind.value) && (!fresh.value || !n.readAt),
  ),
)
const lines = ref<HTMLElement | null>(null)
useRoving(lines, '.one')
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
        <p>Reminders, escalations, work that you are put on and comments on it are kept here.</p>
      </div>
      <template v-else>
        <div class="narrowing">
          <v-select aria-label="Kind" v-model="kind" :items="kinds" />
          <v-checkbox v-model="fresh" label="Unread alone" />
        </div>
        <p v-if="!shown.length" class="quiet">Nothing of that kind.</p>
        <div ref="lines" data-work>
          <DayRows v-slot="{ row: n, time }" :rows="shown" :key-of="(n) => n.id" of="notice">
            <div class="one" :class="{ fresh: !n.readAt }">
              <span class="quiet">{{ time }}</span>
              <span class="kind">{{ KINDS[n.kind] }}</span>
              <span class="what">
                <v-btn
                  variant="plain"
                  v-if="n.item && PLACES[n.item.kind]"
                  :to="`${PLACES[n.item.kind]}${n.item.id}`"
                  @click="!n.readAt && read(n.id)"
                >
                  {{ n.body }}
                </v-btn>
                <template v-else>{{ n.body }}</template>
              </span>
              <v-btn v-if="!n.readAt" variant="text" @click="read(n.id)">Mark as read</v-btn>
            </div>
          </DayRows>
        </div>
      </template>
    </div>
  </main>
</template>

<style scoped>
.narrow {
  max-width: 900px;
}
.one {
  display: grid;
  grid-template-columns: 44px 110px minmax(0, 1fr) auto;
  gap: 0 10px;
  align-items: baseline;
  min-height: 32px;
  padding: 3px 0 3px 10px;
  border-bottom: 1px solid var(--rule);
}
.what {
  overflow-wrap: anywhere;
}
.what a:hover {
  text-decoration: underline;
}
.kind {
  color: var(--ink-2);
}
.fresh {
  box-shadow: inset 3px 0 var(--marigold);
}
.fresh .what {
  font-weight: 550;
}
@media (max-width: 700px) {
  .one {
    grid-template-columns: auto 1fr auto;
  }
  .what {
    grid-area: 2 / 1 / auto / -1;
  }
}
</style>
