<script setup lang="ts">
import { computed, ref } from 'vue'
import { readPeople } from '#core/text/read-people.ts'
import type { Invited } from '#contract/people.ts'
import { ApiProblem, post, sentence } from '#web/api/client.ts'
import LinesField from '#web/parts/LinesField.vue'
import { plural } from '#web/parts/say.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Invites people: a line each, typed, pasted or from a file. */
const emit = defineEmits<{ invited: [] }>()
const session = useSession()
const messages = useMessages()
const text = ref('')
const access = ref<'member' | 'manager' | 'contractor'>('member')
const wrong = ref('')
const busy = ref(false)
/** Their links, to be handed on by other ways than mail. */
const made = ref<readonly Invited[]>([])
const ACCESS = [
  { value: 'member', title: 'Members: work on everything' },
  { value: 'manager', title: 'Managers: templates, series, rules, people too' },
  { value: 'contractor', title: 'Contractors: what is handed to them' },
]
const found = computed(() => readPeople(text.value))
const sends = computed(() =>
  found.value.people.length
    ? `Send ${plural(found.value.people.length, 'invitation')}`
    : 'Send invitations',
)
/** What is wrong with one of them is said by its line. */
function said(error: unknown): string {
  const place =
    error instanceof ApiProblem ? /^people\.(\d+)/.exec(error.problem.place ?? '') : null
  const line = place && found.value.people[Number(place[1])]?.line
  return line ? `Line ${line}: ${sentence(error)}` : sentence(error)
}
async function invite(): Promise<void> {
  busy.value = true
  wrong.value = ''
  try {
    const people = found.value.people.map(({ line: _, ...person }) => ({
      ...{ ...person, access: access.value },
    }))
    const done = await post<Invited[]>('/people', { people, address: location.origin })
    made.value = done
    text.value = ''
    messages.did(`${plural(done.length, 'person', 'people')} invited.`, done)
    await session.refresh(true)
    emit('invited')
  } catch (error) {
    wrong.value = said(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form class="invite" @submit.prevent="invite">
    <LinesField
      v-model="text"
      label="Name and e-mail address, a line each"
      placeholder="Ines Corbet, ines@example.org"
      file="Or a CSV file with both"
    />
    <div class="field as">
      <label for="pi-access">They come in as</label>
      <v-select id="pi-access" v-model="access" :items="ACCESS" />
    </div>
    <ul v-if="found.lost.length" class="lost">
      <li v-for="l in found.lost.slice(0, 5)" :key="l.line" class="wrong">
        Line {{ l.line }} {{ l.why }}: “{{ l.text.slice(0, 60) }}”
      </li>
    </ul>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <v-btn type="submit" :disabled="busy || !found.people.length || found.lost.length > 0">
      {{ sends }}
    </v-btn>
    <div v-if="made.length" class="made">
      <p class="small quiet">
        Each has a mail with a link that opens once, within seven days. It can be handed on like
        this too:
      </p>
      <ul>
        <li v-for="m in made" :key="m.id">
          <span>{{ m.name }}</span>
          <v-text-field :model-value="m.link" readonly :aria-label="`Link for ${m.name}`" />
        </li>
      </ul>
    </div>
  </form>
</template>

<style scoped>
.invite {
  max-width: 560px;
}
.as {
  margin-top: 10px;
  max-width: 360px;
}
ul {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
.made {
  margin-top: 12px;
}
.made li {
  display: grid;
  grid-template-columns: 140px 1fr;
  gap: 8px;
  align-items: center;
  padding: 3px 0;
}
</style>
