<script setup lang="ts">
import { computed } from 'vue'
import type { ClientPage } from '#contract/clients.ts'
import { saidValues } from '#web/fields/own.ts'
import { useSession } from '#web/state/session.ts'

/** How a client is reached, who usually does what for it, and what is to know. */
const { client } = defineProps<{ client: ClientPage }>()
const session = useSession()
const isWeb = (text: string) => /^https?:\/\//i.test(text)
const facts = computed(() =>
  [
    { name: 'E-mail address', text: client.email, href: `mailto:${client.email}` },
    { name: 'Telephone', text: client.phone, href: `tel:${client.phone.replace(/[^+\d]/g, '')}` },
    {
      ...{ name: 'Website', text: client.website },
      href: isWeb(client.website) ? client.website : null,
    },
    { name: 'Address', text: client.address, href: null },
    ...saidValues(client, session.directory.people, session.saying),
    ...client.usual.map(({ role, name }) => ({ name: `Usual ${role}`, text: name, href: null })),
  ].filter(({ text }) => text),
)
</script>

<template>
  <section v-if="facts.length || client.notes" aria-labelledby="cf-head">
    <h2 id="cf-head" class="section">What is to know</h2>
    <dl v-if="facts.length" class="facts">
      <template v-for="{ name, text, href } in facts" :key="name">
        <dt>{{ name }}</dt>
        <dd>
          <v-btn v-if="href" variant="plain" :href="href" rel="noreferrer">{{ text }}</v-btn>
          <template v-else>{{ text }}</template>
        </dd>
      </template>
    </dl>
    <p v-if="client.notes" class="notes">{{ client.notes }}</p>
  </section>
</template>

<style scoped>
.notes {
  white-space: pre-line;
  overflow-wrap: anywhere;
}
</style>
