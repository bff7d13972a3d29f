<script setup lang="ts">
import { computed } from 'vue'
import type { Me } from '#contract/desks.ts'
import type { SessionRow } from '#contract/people.ts'
import { patch, put, remove } from '#web/api/client.ts'
import { useForm } from '#web/forms/useForm.ts'
import LineField from '#web/forms/LineField.vue'
import LoadState from '#web/parts/LoadState.vue'
import { plural } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import MyPhoto from './MyPhoto.vue'
import MyFeeds from './MyFeeds.vue'
import MyTokens from './MyTokens.vue'
import MyWays from './MyWays.vue'
import SecondDevice from './SecondDevice.vue'

/** Oneself: what one is called, one’s password, and where one is signed in. */
const session = useSession()
const messages = useMessages()
const { attempt } = useAttempt()
const { data, error, reload } = useResource<SessionRow[]>(
  () => '/sessions',
  () => false,
)
const others = computed(() => (data.value ?? []).filter((one) => !one.here))
/** This one first; of the others the newest. */
const shown = computed(() => [
  ...(data.value ?? []).filter((one) => one.here),
  ...others.value.slice(0, 9),
])

const called = useForm({
  key: () => 'me.name',
  held: () => session.me && { value: { name: session.me.name }, version: 0 },
  async send({ name }) {
    const done = await patch<Me>('/me', { name })
    await session.refresh(true)
    messages.did(`You are called ${name} now.`, done)
    return { value: { name }, version: 0 }
  },
})
const blank = { now: '', password: '' }
const begun = { value: blank, version: 0 }
const secret = useForm({
  key: () => 'me.password',
  held: () => begun,
  async send(written) {
    await put('/password', written)
    messages.say('Your password is changed; every other browser is signed out.')
    await reload()
    return { value: blank, version: 0 }
  },
})
async function change(): Promise<void> {
  // What was typed is kept nowhere once it is sent.
  if (await secret.save()) secret.draft.value = { ...blank }
}
const signOthersOut = () =>
  attempt(async () => {
    await remove('/sessions')
    messages.say('You are signed in here alone.')
    await reload()
  })
</script>

<template>
  <main class="page wide">
    <div class="sheet pieces">
      <h1>My account</h1>
      <div class="halves">
        <div>
          <form v-if="called.draft.value" @submit.prevent="called.save()">
            <h2 class="section">
              Who I am
              <span>{{ session.me?.title }}</span>
            </h2>
            <LineField
              v-model="called.draft.value.name"
              label="My name"
              needed
              :fault="called.faultAt('name') || called.fault.value"
            />
            <div class="ends">
              <v-btn type="submit" :disabled="!called.dirty.value">Save</v-btn>
              <v-btn v-if="session.me?.may.member" variant="text" :to="`/people/${session.me.id}`">
                My hours and time off
              </v-btn>
            </div>
          </form>
          <MyPhoto />
          <MyWays />
        </div>
        <div>
          <form v-if="secret.draft.value" @submit.prevent="change">
            <h2 class="section">Password</h2>
            <LineField
              v-model="secret.draft.value.now"
              label="Password now"
              type="password"
              autocomplete="current-password"
              :most="200"
              needed
              :fault="secret.faultAt('now')"
            />
            <LineField
              v-model="secret.draft.value.password"
              label="New password, ten characters at least"
              type="password"
              autocomplete="new-password"
              :least="10"
              :most="200"
              needed
              :fault="secret.faultAt('password')"
            />
            <p v-if="secret.fault.value" class="wrong" role="alert">{{ secret.fault.value }}</p>
            <v-btn type="submit" :disabled="secret.busy.value">Change it</v-btn>
          </form>
          <SecondDevice />
          <MyTokens />
          <MyFeeds />
          <section aria-labelledby="me-where">
            <h2 id="me-where" class="section">
              Where I am signed in
              <span>{{ data ? plural(data.length, 'browser') : '' }}</span>
            </h2>
            <LoadState v-if="!data" :error="error" @retry="reload" />
            <ul v-else>
              <li v-for="(one, i) in shown" :key="i">
                since {{ session.sayAt(one.createdAt) }}
                <span class="quiet">until {{ session.sayAt(one.expiresAt) }}</span>
                <b v-if="one.here">here</b>
              </li>
            </ul>
            <v-btn v-if="others.length" @click="signOthersOut">Sign out everywhere else</v-btn>
          </section>
        </div>
      </div>
    </div>
  </main>
</template>

<style scoped>
.ends {
  display: flex;
  gap: 10px;
}
</style>
