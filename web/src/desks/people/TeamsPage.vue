<script setup lang="ts">
import { computed, ref } from 'vue'
import type { TeamSheet } from '#contract/access.ts'
import { call, post, put, remove } from '#web/api/client.ts'
import { TEAM_KIND_NAMES } from '#web/desks/access/words.ts'
import LineMenu, { type MenuLine } from '#web/parts/LineMenu.vue'
import ListHead from '#web/parts/ListHead.vue'
import LoadState from '#web/parts/LoadState.vue'
import PersonMark from '#web/parts/PersonMark.vue'
import { plural } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { everythingWith } from '#web/state/everything.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import PeopleNav from './PeopleNav.vue'
import TeamEdit from './TeamEdit.vue'

/** The teams one may know of: who is in each, joined and left, who asks to be let in. */
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const ROWS = new Set(['teams', 'teamMembers', 'teamAsks'])
const { data, error, reload } = useResource<TeamSheet[]>(
  () => '/teams',
  (c) => c.entities.some((entity) => ROWS.has(entity)),
)
const words = ref('')
const editing = ref<TeamSheet | 'new' | null>(null)
const may = computed(() => session.me?.may.structure === true)
const nameOf = (id: number) =>
  session.directory.people.find((person) => person.id === id)?.name ?? `#${id}`
const shown = computed(() =>
  (data.value ?? []).filter(({ name, members }) =>
    `${name} ${members.map(nameOf).join(' ')}`
      .toLowerCase()
      .includes(words.value.trim().toLowerCase()),
  ),
)
const does = (work: () => Promise<unknown>, said: string) =>
  attempt(async () => {
    messages.did(said, await work())
    await Promise.all([reload(), session.refresh(true)])
  })
const join = (team: TeamSheet) =>
  does(
    () => put(`/teams/${team.id}/me`, undefined),
    team.kind === 'ask' && !may.value
      ? `Who is in ${team.name} sees that you ask.`
      : `You are in ${team.name} now.`,
  )
const leave = (team: TeamSheet) =>
  does(
    () => remove(`/teams/${team.id}/me`),
    team.mine ? `You are out of ${team.name}.` : `You ask ${team.name} no more.`,
  )
const answer = (team: TeamSheet, person: { id: number; name: string }, lets: boolean) =>
  does(
    () => post(`/teams/${team.id}/answer`, { personId: person.id, let: lets }),
    lets ? `${person.name} is in ${team.name} now.` : `${person.name} is not let in.`,
  )
const linesFor = (team: TeamSheet): (MenuLine | false)[] => [
  { name: 'Change', run: () => void (editing.value = team) },
  {
    name: 'Remove',
    run: () => does(() => call('DELETE', `/teams/${team.id}`), `${team.name} is removed.`),
  },
]
function saved(): void {
  editing.value = null
  void reload()
}
</script>

<template>
  <PeopleNav />
  <main>
    <div class="sheet">
      <ListHead v-model="words" title="Teams" narrows="Narrow the teams">
        <v-btn v-if="may" @click="editing = 'new'">Add a team</v-btn>
      </ListHead>
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <div v-else-if="!data.length" class="empty">
        <h3>No teams yet</h3>
        <p>A team shares projects that others do not see, and work that any of them may take.</p>
      </div>
      <p v-else-if="!shown.length" class="quiet">No team of that name.</p>
      <ul v-else class="teams">
        <li v-for="team in shown" :key="team.id">
          <div class="head">
            <h2>{{ team.name }}</h2>
            <span class="small quiet">
              {{ TEAM_KIND_NAMES[team.kind] }}
              {{ team.projects ? ` · ${plural(team.projects, 'project')} for it alone` : '' }}
            </span>
            <span class="gap" />
            <v-btn v-if="team.mine" @click="leave(team)">Leave the team</v-btn>
            <v-btn v-else-if="team.asked" @click="leave(team)">Ask no more</v-btn>
            <v-btn v-else @click="join(team)">
              {{ team.kind === 'open' || may ? 'Join it' : 'Ask to join' }}
            </v-btn>
            <LineMenu v-if="may" :label="`More for ${team.name}`" :lines="linesFor(team)" />
          </div>
          <p class="members">
            <v-btn
              v-for="id in team.members"
              :key="id"
              variant="plain"
              class="member"
              :to="everythingWith('person', id)"
            >
              <PersonMark :person="{ id, name: nameOf(id) }" />
              {{ nameOf(id) }}
            </v-btn>
            <span v-if="!team.members.length" class="ochre small">nobody is in it</span>
          </p>
          <p v-for="person in team.asks" :key="person.id" class="ask">
            {{ person.name }} asks to be let in.
            <v-btn @click="answer(team, person, true)">Let them in</v-btn>
            <v-btn @click="answer(team, person, false)">Not now</v-btn>
          </p>
        </li>
      </ul>
    </div>
    <TeamEdit
      v-if="editing"
      :team="editing === 'new' ? null : editing"
      @close="editing = null"
      @done="saved"
    />
  </main>
</template>

<style scoped>
.teams {
  list-style: none;
  margin: 0;
  padding: 0;
}
.teams > li {
  padding: 10px 0;
  border-bottom: 1px solid var(--rule);
}
.head {
  display: flex;
  gap: 10px;
  align-items: baseline;
  flex-wrap: wrap;
}
h2 {
  font-size: 15px;
  margin: 0;
}
.gap {
  flex: 1;
}
.members {
  display: flex;
  gap: 4px 16px;
  flex-wrap: wrap;
  margin: 6px 0 0;
}
.member {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.member:hover {
  text-decoration: underline;
}
.ask {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 8px 0 0;
}
</style>
