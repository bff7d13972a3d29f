<script setup lang="ts">
import { computed, ref } from 'vue'
import type { PersonPage, TimeOffRow } from '#contract/people.ts'
import { remove } from '#web/api/client.ts'
import RemoveButton from '#web/parts/RemoveButton.vue'
import { sayDate, sayMinutes } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import TimeOffAdd from './TimeOffAdd.vue'

/** When somebody is away: what is to come first, then what was. */
const { person } = defineProps<{ person: PersonPage }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const adding = ref(false)
const past = ref(false)
const isPast = ({ lastDay }: TimeOffRow) => lastDay < session.today
const toCome = computed(() => person.timeOff.filter((off) => !isPast(off)).reverse())
const over = computed(() => person.timeOff.filter(isPast))
const shown = computed(() => [...toCome.value, ...(past.value ? over.value : [])])
const day = (date: string) => sayDate(date, session.today)
const said = ({ firstDay, lastDay }: TimeOffRow) =>
  firstDay === lastDay ? day(firstDay) : `${day(firstDay)} to ${day(lastDay)}`
const takes = ({ half, minutes }: TimeOffRow) =>
  half ? 'half of each day' : minutes ? `${sayMinutes(minutes)} of each day` : ''
const takeOut = (off: TimeOffRow) =>
  attempt(async () => {
    const done = await remove(`/people/${person.id}/time-off/${off.id}`)
    messages.did(`${person.name} is not away ${said(off)}.`, done)
    emit('changed')
  })
function added(): void {
  adding.value = false
  emit('changed')
}
</script>

<template>
  <section aria-labelledby="to-head">
    <h2 id="to-head" class="section">
      Time off
      <span>who stands in hears what comes meanwhile</span>
    </h2>
    <p v-if="!shown.length" class="quiet">None is entered.</p>
    <ul>
      <li v-for="off in shown" :key="off.id" :class="{ quiet: isPast(off) }">
        <span class="when">{{ said(off) }}</span>
        <span class="quiet">{{ [takes(off), off.reason].filter(Boolean).join(', ') }}</span>
        <RemoveButton :aria-label="`Take out the time off ${said(off)}`" @click="takeOut(off)" />
      </li>
    </ul>
    <v-btn @click="adding = true">Add time off</v-btn>
    <v-btn v-if="over.length" variant="text" @click="past = !past">
      {{ past ? 'Hide what was' : `Show what was (${over.length})` }}
    </v-btn>
    <TimeOffAdd v-if="adding" :person="person" @close="adding = false" @done="added" />
  </section>
</template>

<style scoped>
li > :nth-child(2) {
  flex: 1;
}
</style>
