<script setup lang="ts">
import { computed, ref } from 'vue'
import type { DataTableHeader } from 'vuetify'
import type { Invited, PersonPatch, PersonSheet } from '#contract/people.ts'
import { ACCESS } from '#contract/words.ts'
import { patch, post, remove } from '#web/api/client.ts'
import { WIDE } from '#web/parts/columns.ts'
import ListHead from '#web/parts/ListHead.vue'
import LineMenu, { type MenuLine } from '#web/parts/LineMenu.vue'
import LoadState from '#web/parts/LoadState.vue'
import { awayWord } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import { ACCESS_NAMES } from './access-names.ts'
import PeopleInvite from './PeopleInvite.vue'
import PeopleNav from './PeopleNav.vue'
import PersonLeave from './PersonLeave.vue'

/** Everybody of the firm and its guests: what they are, who is in, who is still to come. */
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const { data, error, reload } = useResource<PersonSheet[]>(
  () => '/people',
  (c) => c.entities.includes('people'),
)
const words = ref('')
/** As many rows as are drawn. */
const MOST = 300
const inviting = ref(false)
const leaving = ref<PersonSheet | null>(null)
async function left(): Promise<void> {
  leaving.value = null
  await reload()
}
const shown = computed(() =>
  (data.value ?? []).filter(({ name, email, title }) =>
    `${name} ${email} ${title}`.toLowerCase().includes(words.value.trim().toLowerCase()),
  ),
)
const away = computed(
  () => new Map(session.directory.people.map(({ id, awayUntil }) => [id, awayUntil])),
)
function standing({ id, active, joined, invitedUntil, standInId }: PersonSheet): string {
  if (!active) return 'left'
  const until = away.value.get(id)
  if (until) return `${awayWord(until)}; ${standInId ? nameOf(standInId) : 'nobody'} stands in`
  if (joined) return 'in'
  if (invitedUntil === null || invitedUntil <= (session.me?.now ?? 0)) return 'not invited any more'
  return `invited, until ${session.sayAt(invitedUntil)}`
}
const nameOf = (of: number | null) =>
  (data.value ?? []).find(({ id }) => id === of)?.name ?? 'nobody'
const set = (person: PersonSheet, change: PersonPatch, said: string) =>
  attempt(async () => {
    messages.did(said, await patch(`/people/${person.id}`, change))
    await reload()
  })
const again = (person: PersonSheet) =>
  attempt(async () => {
    const { link } = await post<Invited>(`/people/${person.id}/invite`, {
      address: location.origin,
    })
    await navigator.clipboard?.writeText(link).catch(() => undefined)
    messages.say(`Another invitation goes to ${person.email}.`)
    await reload()
  })
const takeDeviceOff = ({ id, name }: PersonSheet) =>
  attempt(async () => {
    await remove(`/people/${id}/second-factor`)
    messages.say(`${name} signs in by password alone now.`)
    await reload()
  })
const owner = computed(() => session.me?.access === 'owner')
function linesFor(person: PersonSheet): (MenuLine | false)[] {
  const { name, active, access, joined, secondDevice } = person
  if (!active)
    return [{ name: 'Bring back', run: () => set(person, { active: true }, `${name} is back.`) }]
  return [
    { name: 'See what they see', to: `/people/${person.id}/sees` },
    secondDevice && {
      name: 'Take their second device off',
      hint: 'lost: their password alone lets them in',
      run: () => takeDeviceOff(person),
    },
    !joined && { name: 'Send another invitation', run: () => again(person) },
    ...ACCESS.filter(
      (to) => to !== 'client' && to !== access && (to !== 'owner' || owner.value),
    ).map((to) => ({
      name: `Make ${/^[aeiou]/.test(to) ? 'an' : 'a'} ${ACCESS_NAMES[to].toLowerCase()}`,
      run: () => set(person, { access: to }, `${name}: ${ACCESS_NAMES[to].toLowerCase()} now.`),
    })),
    {
      name: 'Say that they left',
      hint: 'what they hold goes to others',
      run: () => {
        leaving.value = person
      },
    },
  ]
}
const COLUMNS: DataTableHeader<PersonSheet>[] = [
  { title: 'Name', key: 'name' },
  { title: 'E-mail address', key: 'email', ...WIDE },
  { title: 'What they do', key: 'title', ...WIDE },
  {
    title: 'Manager',
    key: 'manager',
    value: ({ managerId }) => (managerId ? nameOf(managerId) : ''),
    ...WIDE,
  },
  { title: 'Access', key: 'access', value: (p) => ACCESS_NAMES[p.access] },
  { title: 'Stands', key: 'stands', value: standing },
  { title: '', key: 'more', sortable: false },
]
</script>

<template>
  <PeopleNav />
  <main>
    <div class="sheet">
      <ListHead v-model="words" title="People" narrows="Narrow the people">
        <v-btn :aria-expanded="inviting" @click="inviting = !inviting">Add people</v-btn>
      </ListHead>
      <PeopleInvite v-if="inviting" class="invite" @invited="reload" />
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <p v-else-if="!shown.length" class="quiet">Nobody of that name.</p>
      <v-data-table v-else :headers="COLUMNS" :items="shown.slice(0, MOST)">
        <template #[`item.name`]="{ item: p }">
          <v-btn variant="plain" class="name" :to="`/people/${p.id}`">
            {{ p.name }}
          </v-btn>
        </template>
        <template #[`item.stands`]="{ item: p }">
          <span :class="{ quiet: p.joined && p.active, ochre: !p.joined && p.active }">
            {{ standing(p) }}
          </span>
        </template>
        <template #[`item.more`]="{ item: p }">
          <LineMenu :label="`More for ${p.name}`" :lines="linesFor(p)" />
        </template>
      </v-data-table>
      <p v-if="shown.length > MOST" class="quiet">
        The first {{ MOST }} of {{ shown.length.toLocaleString('en-GB') }}; narrow them to see
        others.
      </p>
      <PersonLeave v-if="leaving" :person="leaving" @close="leaving = null" @done="left" />
    </div>
  </main>
</template>

<style scoped>
.invite {
  margin-bottom: 20px;
}
.name:hover {
  text-decoration: underline;
}
</style>
