<script setup lang="ts">
import { computed, onMounted } from 'vue'
import { useSession } from '#web/state/session.ts'
import { useViews } from '#web/state/views.ts'
import SubNav from '#web/parts/SubNav.vue'

/** The parts of the Work desk: projects, everything, and the views one keeps at hand. */
const session = useSession()
const views = useViews()
onMounted(() => session.me?.may.member && !views.known && void views.read().catch(() => undefined))
const links = computed(() => [
  { to: '/work', name: 'Projects', own: /^\/work(\/\d+)?$/ },
  { to: '/work/all', name: 'All work' },
  ...views.pinned.map((v) => ({ to: `/work/view/${v.id}`, name: v.name })),
])
const others = computed(() => views.all.filter((v) => !v.pinned))
</script>

<template>
  <SubNav label="Parts of Work" :links="links">
    <v-menu v-if="others.length">
      <template #activator="{ props }">
        <button v-bind="props" class="btn">Other views</button>
      </template>
      <div class="menu">
        <router-link v-for="v in others" :key="v.id" :to="`/work/view/${v.id}`">
          {{ v.name }}
          <span v-if="!v.mine" class="small quiet">by {{ v.owner.name }}</span>
        </router-link>
      </div>
    </v-menu>
    <router-link v-if="session.me?.may.member" class="btn" active-class="lit" to="/work/bring-in">
      Bring in
    </router-link>
    <router-link v-if="session.me?.may.member" class="btn" active-class="lit" to="/work/journal">
      Journal
    </router-link>
    <router-link v-if="session.me?.may.member" class="btn" active-class="lit" to="/work/set-up">
      Set up
    </router-link>
  </SubNav>
</template>

<style scoped>
.menu a {
  display: block;
  padding: 5px 9px;
}
.menu a:hover {
  background: var(--fern-wash);
}
.lit {
  border-color: var(--fern);
  color: var(--fern);
}
</style>
