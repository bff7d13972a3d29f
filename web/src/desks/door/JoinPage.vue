<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Invitation } from '#contract/people.ts'
import { get, post, sentence } from '#web/api/client.ts'
import LineField from '#web/forms/LineField.vue'
import LoadState from '#web/parts/LoadState.vue'
import Sprig from '#web/parts/Sprig.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useSession } from '#web/state/session.ts'

/** Where the link of an invitation leads, and that of a forgotten password: one is chosen. */
const session = useSession()
const route = useRoute()
const router = useRouter()
const key = String(route.query['key'] ?? '')
const forgotten = route.meta['forgotten'] === true
const invitation = ref<Invitation | null>(null)
const gone = ref<string | null>(null)
const password = ref('')
const { wrong, busy, attempt } = useAttempt('here')
async function read(): Promise<void> {
  gone.value = null
  try {
    invitation.value = await get<Invitation>(
      `/${forgotten ? 'forgotten' : 'join'}?key=${encodeURIComponent(key)}`,
    )
  } catch (error) {
    gone.value = sentence(error)
  }
}
onMounted(read)
const join = () =>
  attempt(async () => {
    const body = { key, password: password.value }
    await post(forgotten ? '/forgotten/password' : '/join', body)
    await session.read()
    // A second device is asked for at the door.
    await router.push(forgotten ? '/door' : '/today')
  })
</script>

<template>
  <main class="join">
    <Sprig :size="36" class="sprig" />
    <template v-if="invitation">
      <h1>{{ invitation.firm }}</h1>
      <p class="sub">
        {{
          forgotten
            ? `${invitation.name}, choose another password`
            : `Welcome, ${invitation.name}. Choose a password`
        }}; with {{ invitation.email }} it lets you in from now on.
      </p>
      <form @submit.prevent="join">
        <v-text-field
          class="hidden"
          :model-value="invitation.email"
          type="email"
          autocomplete="username"
          aria-label="E-mail address"
          readonly
          tabindex="-1"
        />
        <LineField
          v-model="password"
          label="Password, ten characters at least"
          type="password"
          autocomplete="new-password"
          :least="10"
          :most="200"
          needed
          :fault="wrong"
        />
        <v-btn type="submit" variant="flat" :disabled="busy">
          {{ forgotten ? 'Change it' : 'Sign in' }}
        </v-btn>
      </form>
    </template>
    <template v-else>
      <h1>Fernwick</h1>
      <LoadState :error="gone" @retry="read" />
    </template>
  </main>
</template>

<style scoped>
.join {
  max-width: 400px;
  margin: 0 auto;
  padding: 9vh 20px 40px;
}
.sprig {
  color: var(--fern);
}
h1 {
  margin-top: 8px;
}
form {
  margin: 22px 0;
}
.hidden {
  margin-bottom: 10px;
}
</style>
