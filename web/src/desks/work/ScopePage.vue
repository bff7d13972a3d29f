<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { SavedView, Scope } from '#contract/query.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useSession } from '#web/state/session.ts'
import { useViews } from '#web/state/views.ts'
import { useTitle } from '#web/state/title.ts'
import WorkNav from './WorkNav.vue'
import { useResource } from '#web/state/resource.ts'
import type { Within } from './views/definition.ts'
import WorkView from './views/WorkView.vue'

/** All work of the firm, or what a client, a person, a tag, a template or a series has; or a saved view. */
const session = useSession()
const { one, known, reload } = useViews()
const route = useRoute()
const id = computed(() => Number(route.params['id']) || 0)
const saved = computed(() => (route.params['what'] === 'view' ? one(id.value) : null))
/** Series are too many to be told to everybody: whoever looks at one asks for its name. */
const series = useResource<{ name: string }>(
  () => (route.params['what'] === 'series' ? `/series/${id.value}` : null),
  () => false,
)
const named = (all: readonly { id: number; name: string }[]) =>
  all.find((each) => each.id === id.value)?.name ?? null
const shared = ({ mine, owner, shared: everybody }: SavedView) =>
  !mine ? `shared by ${owner.name}` : everybody ? 'shared with everybody' : ''

interface Kind {
  /** What the page is headed by: null where there is no such thing, nothing until it is known. */
  readonly name: () => string | null | undefined
  readonly more: () => string
  readonly gone: string
}
const KINDS: Readonly<Record<string, Kind>> = {
  firm: { name: () => 'All work', more: () => '', gone: '' },
  view: {
    name: () => saved.value?.name ?? (known.value ? null : undefined),
    more: () => (saved.value ? shared(saved.value) : ''),
    gone: 'This view is gone, or it is not shared with you any more.',
  },
  client: {
    name: () => named(session.directory.clients),
    more: () => '',
    gone: 'There is no such client, or you see none of their work.',
  },
  person: {
    name: () => named(session.directory.people),
    more: () => '',
    gone: 'There is no such person, or you see none of their work.',
  },
  tag: {
    name: () => named(session.directory.tags),
    more: () => 'open work with this tag',
    gone: 'There is no such tag any more.',
  },
  template: {
    name: () => named(session.directory.templates),
    more: () => 'open work begun from this template',
    gone: 'There is no such template any more, or it is not yours to see.',
  },
  series: {
    name: () => series.data.value?.name ?? (series.error.value ? null : undefined),
    more: () => 'open work of this series',
    gone: 'There is no such series any more, or it is not yours to see.',
  },
}
const kind = computed(() => KINDS[String(route.params['what'] ?? 'firm')]!)
const name = computed(() => kind.value.name())
const scope = computed((): Scope => {
  const { what } = route.params
  if (saved.value) return saved.value.definition.scope
  return what === 'client' || what === 'person' ? { of: what, id: id.value } : { of: 'firm' }
})
const within = computed((): Within | null => {
  const { what } = route.params
  return what === 'tag' || what === 'template' || what === 'series'
    ? { field: what, id: id.value }
    : null
})
useTitle(() => name.value ?? 'Work')
</script>

<template>
  <WorkNav />
  <main class="fill">
    <div v-if="name === null" class="sheet">
      <h1>Not here</h1>
      <LoadState :error="kind.gone" @retry="reload" />
    </div>
    <template v-else-if="name !== undefined">
      <div class="top">
        <h1>{{ name }}</h1>
        <span class="quiet small">{{ kind.more() }}</span>
      </div>
      <div class="rest">
        <WorkView :key="route.path" :scope="scope" :saved="saved" :within="within" />
      </div>
    </template>
    <div v-else class="sheet"><LoadState :error="null" /></div>
  </main>
</template>

<style scoped>
.top {
  padding: 5px 20px 0;
  display: flex;
  gap: 12px;
  align-items: baseline;
}
h1 {
  font-size: 21px;
  line-height: 34px;
}
.rest {
  flex: 1;
  min-height: 0;
}
</style>
