<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import type { PersonPage } from '#contract/people.ts'
import LoadState from '#web/parts/LoadState.vue'
import PersonMark from '#web/parts/PersonMark.vue'
import { awayWord } from '#web/parts/say.ts'
import { everythingWith } from '#web/state/everything.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import { useTitle } from '#web/state/title.ts'
import { ACCESS_NAMES } from './access-names.ts'
import PeopleNav from './PeopleNav.vue'
import PersonFacts from './PersonFacts.vue'
import PersonLeave from './PersonLeave.vue'
import PersonHours from './PersonHours.vue'
import PersonTokens from './PersonTokens.vue'
import TimeOffList from './TimeOffList.vue'

/** A person: what they are, their hours, when they are away, and who acts for them then. */
const route = useRoute()
const session = useSession()
const id = computed(() => Number(route.params['id']))
const { data, error, reload } = useResource<PersonPage>(
  () => `/people/${id.value}`,
  (c) => c.entities.some((entity) => ['people', 'timeOff', 'firm'].includes(entity)),
  { keep: true },
)
useTitle(() => data.value && data.value.name)
const may = computed(() => session.me?.may.structure === true)
const nameOf = (of: number | null) => session.directory.people.find((p) => p.id === of)?.name
const away = computed(
  () => session.directory.people.find((p) => p.id === id.value)?.awayUntil ?? null,
)
const leaving = ref(false)
async function left(): Promise<void> {
  leaving.value = false
  await reload()
}
const acting = computed(() => data.value && nameOf(data.value.standInId))
</script>

<template>
  <PeopleNav />
  <main>
    <div class="sheet pieces">
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <template v-else>
        <header class="named">
          <PersonMark :person="data" />
          <h1>{{ data.name }}</h1>
          <v-btn v-if="may" :to="everythingWith('person', data.id)">See their work</v-btn>
          <v-btn v-if="may" :to="`/people/${data.id}/sees`">See what they see</v-btn>
          <v-btn v-if="may && data.active" @click="leaving = true">Say that they left</v-btn>
        </header>
        <p class="quiet">
          {{ [data.title, ACCESS_NAMES[data.access], data.email].filter(Boolean).join(' · ') }}
        </p>
        <p v-if="!data.active" class="ochre">{{ data.name }} has left.</p>
        <p v-else-if="away" class="ochre">
          {{ data.name }} is {{ awayWord(away) }};
          {{ acting ? `${acting} stands in.` : 'nobody stands in.' }}
        </p>
        <div class="halves">
          <div>
            <PersonFacts :key="data.id" :person="data" :may="may" @changed="reload" />
            <PersonHours :key="data.id" :person="data" :may="may" @changed="reload" />
          </div>
          <div>
            <TimeOffList :person="data" @changed="reload" />
            <PersonTokens v-if="may" :person="data" @changed="reload" />
          </div>
        </div>
        <PersonLeave v-if="leaving" :person="data" @close="leaving = false" @done="left" />
      </template>
    </div>
  </main>
</template>
