<script setup lang="ts">
import { computed, ref } from 'vue'
import type { SecondFactor, SecondSecret } from '#contract/people.ts'
import { post } from '#web/api/client.ts'
import LineField from '#web/forms/LineField.vue'
import LoadState from '#web/parts/LoadState.vue'
import { plural } from '#web/parts/say.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'

/** A second device beside the password: set up, its codes on paper shown once, taken off. */
const session = useSession()
const messages = useMessages()
const { data, error, reload } = useResource<SecondFactor>(
  () => '/second-factor',
  () => false,
)
const { wrong, busy, attempt } = useAttempt('here')
const password = ref('')
const code = ref('')
const begun = ref<SecondSecret | null>(null)
const picture = ref('')
const paper = ref<readonly string[]>([])

const begin = () =>
  attempt(async () => {
    begun.value = await post<SecondSecret>('/second-factor', { password: password.value })
    password.value = ''
    const { renderSVG } = await import('uqr')
    picture.value = `data:image/svg+xml,${encodeURIComponent(renderSVG(begun.value.address))}`
  })
const confirm = () =>
  attempt(async () => {
    paper.value = await post<string[]>('/second-factor/confirm', { code: code.value.trim() })
    begun.value = null
    code.value = ''
    messages.say('From now on a code of it is asked for at the door.')
    await reload()
    await session.read()
  })
const takeOff = () =>
  attempt(async () => {
    await post('/second-factor/off', { password: password.value })
    password.value = ''
    paper.value = []
    messages.say('The second device is taken off; your password alone lets you in.')
    await reload()
    await session.refresh(false)
  })
/** In fours, as one reads it out. */
const spelt = computed(() => begun.value?.secret.replace(/(.{4})(?=.)/g, '$1 ') ?? '')
const standing = computed(() => {
  const { since, codesLeft } = data.value ?? { since: null, codesLeft: 0 }
  return since === null ? 'none' : `${plural(codesLeft, 'code')} on paper left`
})
</script>

<template>
  <section aria-labelledby="me-second">
    <h2 id="me-second" class="section">
      Second device
      <span>{{ standing }}</span>
    </h2>
    <p v-if="session.me?.lacksCode" class="wrong" role="alert">
      {{ session.firm }} asks for a code from a second device: set one up here, then all else opens.
    </p>
    <LoadState v-if="!data" :error="error" @retry="reload" />
    <template v-else>
      <div v-if="paper.length" class="paper">
        <p>
          Write these down and keep them away from the device: each lets you in once without it.
          They are shown this once.
        </p>
        <ol>
          <li v-for="one in paper" :key="one">{{ one }}</li>
        </ol>
        <v-btn @click="paper = []">Done, they are kept</v-btn>
      </div>
      <form v-else-if="begun" @submit.prevent="confirm">
        <p>
          Point the device at this, or type the letters below into it; then type the code it shows.
        </p>
        <img v-if="picture" :src="picture" alt="What the device reads" width="190" height="190" />
        <p class="secret">{{ spelt }}</p>
        <LineField
          v-model="code"
          label="Code it shows now"
          autocomplete="one-time-code"
          :most="10"
          needed
          :fault="wrong"
        />
        <p class="btns">
          <v-btn type="submit" variant="flat" :disabled="busy">Use it from now on</v-btn>
          <v-btn @click="begun = null">Leave it</v-btn>
        </p>
      </form>
      <form v-else @submit.prevent="data.since === null ? begin() : takeOff()">
        <p class="small quiet">
          {{
            data.since === null
              ? 'A telephone with a program for codes: whoever learns your password cannot come in without it.'
              : `In force since ${session.sayAt(data.since)}.`
          }}
        </p>
        <LineField
          v-model="password"
          label="Your password, to be sure"
          type="password"
          autocomplete="current-password"
          :most="200"
          needed
          :fault="wrong"
        />
        <v-btn type="submit" :disabled="busy">
          {{ data.since === null ? 'Set up a second device' : 'Take it off' }}
        </v-btn>
      </form>
    </template>
  </section>
</template>

<style scoped>
img {
  display: block;
  border: 8px solid #fff;
  border-radius: 4px;
}
.secret,
ol {
  font-family: var(--mono, monospace);
  font-size: 14px;
}
ol {
  columns: 2;
  margin: 0 0 12px;
  padding-left: 26px;
}
</style>
