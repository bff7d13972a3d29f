<script setup lang="ts">
import { ref } from 'vue'
import { post } from '#web/api/client.ts'
import LineField from '#web/forms/LineField.vue'
import Sprig from '#web/parts/Sprig.vue'
import { useAttempt } from '#web/state/attempt.ts'

/** Asks for a link by which another password is set; nobody learns here who has an account. */
const email = ref('')
const sent = ref('')
const { wrong, busy, attempt } = useAttempt('here')
const ask = () =>
  attempt(async () => {
    await post('/forgotten', { email: email.value.trim() })
    sent.value = email.value.trim()
  })
</script>

<template>
  <main class="forgotten">
    <Sprig :size="36" class="sprig" />
    <h1>A forgotten password</h1>
    <p v-if="sent" role="status">
      If {{ sent }} belongs to somebody here, a mail is on its way with a link that opens once,
      within an hour.
    </p>
    <form v-else @submit.prevent="ask">
      <LineField
        v-model="email"
        label="E-mail address"
        type="email"
        autocomplete="username"
        :most="200"
        needed
        :fault="wrong"
      />
      <v-btn type="submit" variant="flat" :disabled="busy">Send me a link</v-btn>
    </form>
    <p><v-btn variant="text" to="/door">Back to the door</v-btn></p>
  </main>
</template>

<style scoped>
.forgotten {
  max-width: 400px;
  margin: 0 auto;
  padding: 9vh 20px 40px;
}
.sprig {
  color: var(--fern);
}
h1 {
  margin: 8px 0 16px;
}
form {
  margin-bottom: 16px;
}
</style>
