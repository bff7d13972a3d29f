<script setup lang="ts">
import { ref } from 'vue'
import type { ClientPage, Contact } from '#contract/clients.ts'
import type { Invited } from '#contract/people.ts'
import { post } from '#web/api/client.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import ContactAdd from './ContactAdd.vue'

/** Who is who at a client, and whether they have been in. */
defineProps<{ client: ClientPage; may: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const messages = useMessages()
const { attempt } = useAttempt()
const adding = ref(false)
const standing = ({ active, joined }: Contact) => (active ? (joined ? 'in' : 'not in yet') : 'left')
const invite = ({ id, email }: Contact) =>
  attempt(async () => {
    await post<Invited>(`/people/${id}/invite`, { address: location.origin })
    messages.say(`An invitation goes to ${email}.`)
    emit('changed')
  })
function added(): void {
  adding.value = false
  emit('changed')
}
</script>

<template>
  <section aria-labelledby="cc-head">
    <h2 id="cc-head" class="section">Contacts</h2>
    <p v-if="!client.contacts.length" class="quiet">Nobody of it is known yet.</p>
    <ul v-else>
      <li v-for="one in client.contacts" :key="one.id">
        <span>
          <v-btn v-if="may" variant="plain" class="name" :to="`/people/${one.id}`">
            {{ one.name }}
          </v-btn>
          <template v-else>{{ one.name }}</template>
          <span class="small quiet">{{ [one.title, one.email].filter(Boolean).join(' · ') }}</span>
        </span>
        <span class="small" :class="one.joined ? 'quiet' : 'ochre'">{{ standing(one) }}</span>
        <v-btn
          v-if="may && one.active && !one.joined"
          variant="text"
          :aria-label="`Send ${one.name} an invitation`"
          @click="invite(one)"
        >
          Send an invitation
        </v-btn>
      </li>
    </ul>
    <v-btn v-if="may" class="add" @click="adding = true">Add a contact</v-btn>
    <ContactAdd v-if="adding" :client="client" @close="adding = false" @done="added" />
  </section>
</template>

<style scoped>
li > span > span {
  display: block;
}
.add {
  margin-top: 8px;
}
</style>
