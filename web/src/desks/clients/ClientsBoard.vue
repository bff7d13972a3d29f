<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ClientPage, ClientRow, ClientState } from '#contract/clients.ts'
import { patch } from '#web/api/client.ts'
import { vCarry, vLand, type Carried, type Landing } from '#web/drag/carry.ts'
import LineMenu from '#web/parts/LineMenu.vue'
import PersonMark from '#web/parts/PersonMark.vue'
import { plural } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Clients by where they stand: one is moved by carrying it, or from its menu. */
const props = defineProps<{
  states: readonly ClientState[]
  clients: readonly ClientRow[]
  /** Running projects, by client. */
  running: ReadonlyMap<number, number>
}>()
/** Shows a client in another state, until the server tells of it. */
const emit = defineEmits<{ place: [client: number, state: number | null] }>()
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
/** As many slips as a column draws. */
const MOST = 100
const columns = computed(() => {
  const of = new Map<number | null, ClientRow[]>()
  for (const client of props.clients) {
    const there = of.get(client.stateId)
    if (there) there.push(client)
    else of.set(client.stateId, [client])
  }
  return props.states.map((state) => ({ state, clients: of.get(state.id) ?? [] }))
})
const tagsOf = ({ tags }: ClientRow) => session.directory.tags.filter(({ id }) => tags.includes(id))

/** Its tier, and how much runs for it. */
const sayWhat = ({ id, tier }: ClientRow) =>
  [tier, ...(props.running.has(id) ? [plural(props.running.get(id)!, 'project')] : [])].join(', ')

const move = ({ id, name, stateId }: ClientRow, to: ClientState) =>
  attempt(async () => {
    if (stateId === to.id) return
    emit('place', id, to.id)
    try {
      const done = await patch<ClientPage>(`/clients/${id}`, { stateId: to.id })
      messages.did(`${name} is in “${to.name}”.`, done)
    } catch (error) {
      emit('place', id, stateId)
      throw error
    }
  })
const carried = ({ id, name, mayEdit }: ClientRow): Carried | false =>
  mayEdit && { kind: 'client', id, name }
const over = ref<number | null>(null)
const landing = (state: ClientState): Landing => ({
  takes: ({ kind }) => kind === 'client',
  over(what) {
    over.value = what ? state.id : null
    return `to ${state.name}`
  },
  land({ id }) {
    const client = props.clients.find((one) => one.id === id)
    if (client) void move(client, state)
  },
})
const linesFor = (client: ClientRow) =>
  props.states.map((state) => ({
    ...{ name: state.name, colour: state.colour, on: client.stateId === state.id },
    run: () => move(client, state),
  }))
</script>

<template>
  <div class="board">
    <section
      v-for="{ state, clients: there } in columns"
      :key="state.id"
      v-land="landing(state)"
      class="col"
      :class="[`c-${state.colour}`, { over: over === state.id }]"
      :aria-label="state.name"
    >
      <h2>
        <span>{{ state.name }}</span>
        <span class="quiet">{{ there.length.toLocaleString('en-GB') }}</span>
      </h2>
      <ul>
        <li
          v-for="client in there.slice(0, MOST)"
          :key="client.id"
          v-carry="carried(client)"
          :class="{ carries: client.mayEdit }"
        >
          <div class="line">
            <v-btn variant="plain" class="name" :to="`/clients/${client.id}`">
              {{ client.name }}
            </v-btn>
            <LineMenu
              v-if="client.mayEdit"
              :label="`Move ${client.name}`"
              :lines="linesFor(client)"
            >
              <template #default="{ props: opens }">
                <v-btn v-bind="opens" variant="plain" icon :aria-label="`Move ${client.name}`">
                  ⋯
                </v-btn>
              </template>
            </LineMenu>
          </div>
          <p v-if="client.tags.length" class="tags">
            <span
              v-for="tag in tagsOf(client)"
              :key="tag.id"
              class="tint"
              :class="`c-${tag.colour}`"
            >
              {{ tag.name }}
            </span>
          </p>
          <p class="line small quiet">
            <span>{{ sayWhat(client) }}</span>
            <PersonMark v-if="client.lead" :person="client.lead" />
          </p>
        </li>
      </ul>
      <p v-if="there.length > MOST" class="small quiet more">
        {{ (there.length - MOST).toLocaleString('en-GB') }} more; narrow them to see others.
      </p>
    </section>
  </div>
</template>

<style scoped>
.board {
  display: flex;
  align-items: stretch;
  overflow-x: auto;
  border-top: 1.5px solid var(--ink);
  min-height: 60vh;
}
.col {
  flex: 1 0 200px;
  max-width: 330px;
  border-right: 1px solid var(--rule-strong);
}
.col.over {
  background: color-mix(in srgb, var(--fern) 8%, transparent);
}
h2,
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
}
h2 {
  font: 600 13px var(--sans);
  margin: 0;
  padding: 8px 10px 6px;
  border-bottom: 3px solid var(--own);
}
h2 .quiet {
  font-weight: 500;
  font-size: 12px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  background: var(--sheet);
  border-bottom: 1px solid var(--rule-strong);
  padding: 6px 6px 6px 10px;
}
.carries {
  cursor: grab;
}
.name {
  flex: 1;
  justify-content: flex-start;
  white-space: normal;
  text-align: left;
  overflow-wrap: anywhere;
}
.name:hover {
  text-decoration: underline;
}
.tags {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin: 2px 0;
}
.line.small {
  min-height: 24px;
  padding-right: 6px;
}
.more {
  padding: 6px 10px;
}
</style>
