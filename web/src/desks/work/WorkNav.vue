<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '#web/state/session.ts'
import { useViews } from '#web/state/views.ts'
import SubNav from '#web/parts/SubNav.vue'
import LineMenu from '#web/parts/LineMenu.vue'

/** The parts of the Work desk: projects, everything, and the views one keeps at hand. */
const session = useSession()
const { all } = useViews()
const links = computed(() => [
  { to: '/work', name: 'Projects', own: /^\/work(\/\d+)?$/ },
  { to: '/work/all', name: 'All work' },
  ...all.value.filter((v) => v.pinned).map((v) => ({ to: `/work/view/${v.id}`, name: v.name })),
])
const others = computed(() => all.value.filter((v) => !v.pinned))
</script>

<template>
  <SubNav label="Parts of Work" :links="links">
    <LineMenu
      v-if="others.length"
      label="Other views"
      :lines="
        others.map((v) => ({
          name: v.name,
          to: `/work/view/${v.id}`,
          hint: v.mine ? undefined : `by ${v.owner.name}`,
        }))
      "
    >
      <template #default="{ props }"><v-btn v-bind="props">Other views</v-btn></template>
    </LineMenu>
    <v-btn v-if="session.me?.may.member" active-class="lit" to="/work/bring-in">Bring in</v-btn>
    <v-btn v-if="session.me?.may.member" active-class="lit" to="/work/journal">Journal</v-btn>
    <v-btn v-if="session.me?.may.member" active-class="lit" to="/work/set-up">Set up</v-btn>
  </SubNav>
</template>
