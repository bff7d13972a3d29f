<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '#web/state/session.ts'
import { useViews } from '#web/state/views.ts'
import LineMenu from '#web/parts/LineMenu.vue'
import { useNarrow } from '#web/parts/narrow.ts'
import SubNav from '#web/parts/SubNav.vue'

/** The parts of the Work desk: projects, everything, and the views one keeps at hand. */
const session = useSession()
const { all } = useViews()
const narrow = useNarrow()
const links = computed(() => [
  { to: '/work', name: 'Projects', own: /^\/work(\/\d+)?$/ },
  { to: '/work/all', name: 'All work' },
  ...all.value.filter((v) => v.pinned).map((v) => ({ to: `/work/view/${v.id}`, name: v.name })),
])
const others = computed(() =>
  all.value
    .filter((v) => !v.pinned)
    .map((v) => ({
      name: v.name,
      to: `/work/view/${v.id}`,
      ...(!v.mine && { hint: `by ${v.owner.name}` }),
    })),
)
const more = computed(() => [
  ...(narrow.value ? others.value : []),
  ...(session.me?.may.member
    ? [
        { name: 'Bring in', to: '/work/bring-in' },
        { name: 'Journal', to: '/work/journal' },
        { name: 'Set up', to: '/work/set-up' },
      ]
    : []),
])
</script>

<template>
  <SubNav label="Parts of Work" :links="links" :more="more">
    <LineMenu v-if="others.length && !narrow" label="Other views" :lines="others">
      <template #default="{ props }"><v-btn v-bind="props">Other views</v-btn></template>
    </LineMenu>
  </SubNav>
</template>
