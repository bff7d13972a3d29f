<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { Scope } from '#contract/query.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useSession } from '#web/state/session.ts'
import { useViews } from '#web/state/views.ts'
import { useTitle } from '#web/state/title.ts'
import WorkNav from './WorkNav.vue'
import WorkView from './views/WorkView.vue'

/** All work of the firm, a client or a person, or a saved view. */
const session = useSession()
const { one, known, reload } = useViews()
const route = useRoute()
const id = computed(() => Number(route.params['id']) || 0)
const saved = computed(() => (route.path.startsWith('/work/view/') ? one(id.value) : null))
const scope = computed((): Scope =>
  saved.value
    ? saved.value.definition.scope
    : route.path.startsWith('/work/client/')
      ? { of: 'client', id: id.value }
      : route.path.startsWith('/work/person/')
        ? { of: 'person', id: id.value }
        : { of: 'firm' },
)
const gone = computed(() => route.path.startsWith('/work/view/') && known.value && !saved.value)
const title = computed(() => {
  if (saved.value) return saved.value.name
  if (scope.value.of === 'client')
    return session.directory.clients.find((c) => c.id === id.value)?.name ?? 'Client'
  if (scope.value.of === 'person')
    return session.directory.people.find((p) => p.id === id.value)?.name ?? 'Person'
  return 'All work'
})
const whose = computed(() =>
  saved.value && !saved.value.mine
    ? `shared by ${saved.value.owner.name}`
    : saved.value?.shared
      ? 'shared with everybody'
      : '',
)
useTitle(() => title.value)
</script>

<template>
  <WorkNav />
  <main class="fill">
    <div v-if="gone" class="sheet">
      <LoadState
        error="This view is gone, or it is not shared with you any more."
        @retry="reload"
      />
    </div>
    <template v-else-if="scope.of !== 'firm' || !route.path.startsWith('/work/view/') || saved">
      <div class="top">
        <h1>{{ title }}</h1>
        <span class="quiet small">{{ whose }}</span>
      </div>
      <div class="rest"><WorkView :key="route.path" :scope="scope" :saved="saved" /></div>
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
