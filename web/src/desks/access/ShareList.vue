<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ShareBody, ShareRow } from '#contract/access.ts'
import type { SharedLevel } from '#contract/words.ts'
import { post, remove } from '#web/api/client.ts'
import { guestWord } from '#web/desks/people/access-names.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import RemoveButton from '#web/parts/RemoveButton.vue'
import { SHARE_LIST } from './words.ts'

/**
 * With whom something is shared by name, and to do what: more people put there, what they may do
 * changed, taken back. `structure` says whether what it is has a structure to be shared.
 */
const props = defineProps<{
  shares: readonly ShareRow[]
  /** Where shares of it are: `/projects/3/shares`. */
  home: string
  phases?: readonly { id: number; name: string }[]
  structure: boolean
}>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const messages = useMessages()
const { wrong, attempt } = useAttempt('here')
const people = ref<number[]>([])
const may = ref<SharedLevel>('view')
const phase = ref<number | null>(null)
const levels = computed(() =>
  SHARE_LIST.filter(({ value }) => props.structure || value !== 'structure'),
)
const items = computed(() =>
  session.active.map(({ id, name, access }) => ({ value: id, title: name + guestWord(access) })),
)
const parts = computed(() => [
  { value: null, title: 'all of it' },
  ...(props.phases ?? []).map(({ id, name }) => ({ value: id, title: `only “${name}”` })),
])
const send = (body: ShareBody, said: string) =>
  attempt(async () => {
    messages.did(said, await post(props.home, body))
    emit('changed')
  })
async function share(): Promise<void> {
  const some = phase.value === null ? {} : { phaseId: phase.value }
  if (await send({ people: people.value, may: may.value, ...some }, 'It is shared.'))
    people.value = []
}
const change = ({ person, phase: of }: ShareRow, to: SharedLevel) =>
  send({ people: [person.id], may: to, ...(of && { phaseId: of.id }) }, `${person.name}: changed.`)
const takeBack = ({ id, person }: ShareRow) =>
  attempt(async () => {
    messages.did(
      `It is not shared with ${person.name} any more.`,
      await remove(`${props.home}/${id}`),
    )
    emit('changed')
  })
</script>

<template>
  <div>
    <ul v-if="shares.length" class="shares">
      <li v-for="s in shares" :key="s.id">
        <span class="who">
          {{ s.person.name }}
          <span v-if="guestWord(s.access)" class="quiet small">{{ guestWord(s.access) }}</span>
        </span>
        <span v-if="s.phase" class="quiet small">only “{{ s.phase.name }}”</span>
        <v-select
          class="may"
          :model-value="s.may"
          :items="levels"
          :aria-label="`What ${s.person.name} may do`"
          @update:model-value="change(s, $event)"
        />
        <RemoveButton :aria-label="`Take back from ${s.person.name}`" @click="takeBack(s)" />
      </li>
    </ul>
    <p v-else class="quiet small">Shared with nobody by name.</p>
    <form class="more" @submit.prevent="share">
      <v-autocomplete
        v-model="people"
        class="people"
        multiple
        chips
        closable-chips
        clear-on-select
        :items="items"
        aria-label="Share it with"
        :placeholder="people.length ? undefined : 'Share it with…'"
        persistent-placeholder
      />
      <v-select v-model="may" class="may" :items="levels" aria-label="What they may do" />
      <v-select
        v-if="phases?.length"
        v-model="phase"
        class="may"
        :items="parts"
        aria-label="How much of it"
      />
      <v-btn type="submit" :disabled="!people.length">Share it</v-btn>
    </form>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
  </div>
</template>

<style scoped>
.shares {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
.shares li {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 3px 0;
  border-bottom: 1px solid var(--rule);
}
.who {
  flex: 1;
  min-width: 0;
}
.may {
  flex: 0 1 180px;
}
.more {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
  align-items: center;
}
.people {
  flex: 1 1 200px;
}
</style>
