<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { FEED_KINDS, type FeedKind } from '#contract/words.ts'
import type { FeedRow, MadeFeed } from '#contract/feeds.ts'
import { post, remove } from '#web/api/client.ts'
import LoadState from '#web/parts/LoadState.vue'
import { plural } from '#web/parts/say.ts'
import TokenPick from '#web/parts/TokenPick.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import ShownOnce from './ShownOnce.vue'

/** Addresses that a calendar program subscribes to: made or reset, shown once, ended. */
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const { data, error, reload } = useResource<FeedRow[]>(
  () => '/feeds',
  () => false,
)
const NAMES: Readonly<Record<FeedKind, string>> = {
  person: 'my own work',
  project: 'a project',
  client: 'a client',
}
const kinds = computed(() =>
  FEED_KINDS.filter((kind) => kind !== 'client' || session.me?.may.member).map((value) => ({
    value,
    name: NAMES[value],
  })),
)
/** A project’s or a client’s page leads here with what it is. */
const { query } = useRoute()
const of = ref<FeedKind>(FEED_KINDS.find((kind) => kind === query['feed']) ?? 'person')
const item = ref<number | null>(Number(query['item']) || null)
const items = computed(() => {
  const { projects, clients } = session.directory
  const all = of.value === 'project' ? projects : of.value === 'client' ? clients : []
  return all.map(({ id, name }) => ({ value: id, title: name }))
})
const section = ref<HTMLElement | null>(null)
watch(
  () => query['feed'] && data.value,
  async (shown) => {
    await nextTick()
    if (shown) section.value?.scrollIntoView()
  },
  { once: true },
)
/** Whether there is an address of it, which a new one would take the place of. */
const isThere = computed(() =>
  data.value?.some((feed) => feed.of === of.value && (feed.item ?? null) === item.value),
)
const made = ref<MadeFeed | null>(null)
const address = computed(() => made.value && new URL(made.value.path, window.location.href).href)

const make = (kind: FeedKind, id: number | null) =>
  attempt(async () => {
    made.value = await post<MadeFeed>('/feeds', { of: kind, ...(id !== null && { item: id }) })
    await reload()
  })
const end = (feed: FeedRow) =>
  attempt(async () => {
    await remove(`/feeds/${feed.id}`)
    if (made.value?.id === feed.id) made.value = null
    messages.say('Its address opens nothing any more.')
    await reload()
  })
</script>

<template>
  <section ref="section" aria-labelledby="me-feeds">
    <h2 id="me-feeds" class="section">
      Calendars elsewhere
      <span>{{ data?.length ? plural(data.length, 'address', 'addresses') : 'none' }}</span>
    </h2>
    <LoadState v-if="!data" :error="error" @retry="reload" />
    <template v-else>
      <ShownOnce v-if="made" what="address" :secret="address!" @kept="made = null">
        A calendar program subscribes to this address of {{ made.name }}. It is shown this once;
        whoever has it sees what you see of it.
      </ShownOnce>
      <p v-if="!data.length" class="small quiet">
        A calendar program shows open work with a date, and what series will make, as often as it
        asks. Its address is private: who has it needs no password.
      </p>
      <div v-for="feed in data" :key="feed.id" class="feed">
        <b>{{ feed.name }}</b>
        <span class="quiet small">
          {{ feed.usedAt ? `last asked ${session.sayAt(feed.usedAt)}` : 'not asked yet' }}
        </span>
        <v-btn @click="make(feed.of, feed.item)">Make its address anew</v-btn>
        <v-btn variant="text" @click="end(feed)">Stop it</v-btn>
      </div>
      <p class="line">
        Of
        <TokenPick
          v-model="of"
          :options="kinds"
          label="What it shows"
          @update:model-value="item = null"
        />
        <v-autocomplete
          v-if="of !== 'person'"
          v-model="item"
          class="pick"
          :items="items"
          :aria-label="of === 'project' ? 'Which project' : 'Which client'"
        />
        <v-btn :disabled="of !== 'person' && item === null" @click="make(of, item)">
          {{ isThere ? 'Make its address anew' : 'Make an address' }}
        </v-btn>
        <span v-if="isThere" class="small quiet">the one there is opens nothing then</span>
      </p>
    </template>
  </section>
</template>

<style scoped>
.feed,
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.feed {
  border-top: 1px solid var(--rule);
  padding: 6px 0;
}
.feed b {
  flex: 1;
}
.pick {
  max-width: 280px;
}
</style>
