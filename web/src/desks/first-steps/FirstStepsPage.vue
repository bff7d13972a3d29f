<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { TemplateSheet } from '#contract/clockwork.ts'
import { post } from '#web/api/client.ts'
import ClientsBring from '#web/desks/clients/ClientsBring.vue'
import ClientsMake from '#web/desks/clients/ClientsMake.vue'
import PeopleInvite from '#web/desks/people/PeopleInvite.vue'
import { plural } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { STARTERS } from './starters.ts'

/** What a firm that has just begun does first: colleagues, clients, a template that is started. */
const session = useSession()
const messages = useMessages()
const router = useRouter()
const { attempt } = useAttempt()
const others = computed(() => session.active.length - 1)
const clients = computed(() => session.directory.clients)

const begin = ({ about: _, ...definition }: (typeof STARTERS)[number]) =>
  attempt(async () => {
    const made = await post<TemplateSheet>('/templates', { definition })
    messages.did(`“${made.name}” is yours now: change it, try it on real dates, start it.`, made)
    await router.push(`/clockwork/templates/${made.id}`)
  })
</script>

<template>
  <main class="page wide">
    <div class="sheet steps">
      <h1>First steps</h1>
      <p class="sub">
        Three things, each of which can wait; all of it is found again under People, Work and
        Clockwork.
      </p>
      <p v-if="!session.me?.may.structure" class="quiet">A manager takes them.</p>
      <template v-else>
        <section aria-labelledby="fs-people">
          <h2 id="fs-people" class="section">
            1. Who works here
            <span>
              {{
                others ? `${plural(others, 'other', 'others')} besides you` : 'nobody but you yet'
              }}
            </span>
          </h2>
          <PeopleInvite />
        </section>
        <section aria-labelledby="fs-clients">
          <h2 id="fs-clients" class="section">
            2. Whom you work for
            <span>{{ plural(clients.length, 'client') }}</span>
          </h2>
          <ClientsMake />
          <ClientsBring />
        </section>
        <section aria-labelledby="fs-templates">
          <h2 id="fs-templates" class="section">
            3. What you do again and again
            <span>a template, tried on real dates and started</span>
          </h2>
          <ul>
            <li v-for="starter in STARTERS" :key="starter.name">
              <b>{{ starter.name }}</b>
              <span class="quiet small">{{ starter.about }}</span>
              <v-btn :aria-label="`Use ${starter.name}`" @click="begin(starter)">Use it</v-btn>
            </li>
          </ul>
          <p class="btns">
            <v-btn to="/clockwork/templates/bring-in">Bring in a checklist of your own</v-btn>
          </p>
        </section>
      </template>
    </div>
  </main>
</template>

<style scoped>
.steps {
  max-width: 720px;
}
section {
  margin-top: 22px;
}
.section {
  margin-bottom: 10px;
}
ul {
  list-style: none;
  margin: 0 0 10px;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 160px 1fr auto;
  gap: 12px;
  align-items: center;
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
}
@media (max-width: 520px) {
  li {
    grid-template-columns: 1fr auto;
  }
  li span {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
