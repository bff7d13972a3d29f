<script setup lang="ts">
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ApiProblem, sentence } from '#web/api/client.ts'
import LineField from '#web/forms/LineField.vue'
import Sprig from '#web/parts/Sprig.vue'
import { wanted } from '#web/router.ts'
import { useSession } from '#web/state/session.ts'

const session = useSession()
const route = useRoute()
const router = useRouter()
const email = ref('')
const password = ref('')
const code = ref('')
/** The password was right, and there is a second device. */
const asksCode = ref(false)
const wrong = ref('')
const busy = ref(false)
const PEOPLE = [
  { who: 'manager', name: 'Operations manager', about: 'runs templates, series and rules' },
  { who: 'member', name: 'Member', about: 'works from Today' },
  { who: 'contractor', name: 'Contractor', about: 'sees what was handed over' },
  { who: 'client', name: 'Client contact', about: 'sees what is asked of the clinic' },
]
async function enter(work: () => Promise<void>): Promise<void> {
  busy.value = true
  wrong.value = ''
  try {
    await work()
    await router.push(wanted(route.query['to']))
  } catch (error) {
    const problem = error instanceof ApiProblem ? error.problem.code : ''
    asksCode.value ||= problem === 'code-needed'
    // That one is asked for is nothing that went wrong.
    wrong.value = problem === 'code-needed' ? '' : sentence(error)
  } finally {
    busy.value = false
  }
}
if (!session.known) session.read().catch((error: unknown) => (wrong.value = sentence(error)))
</script>

<template>
  <main class="door">
    <Sprig :size="40" class="sprig" />
    <h1>Fernwick</h1>
    <p class="quiet">{{ session.firm || 'Work that repeats, kept to the day' }}</p>
    <form @submit.prevent="enter(() => session.signIn(email, password, code))">
      <div class="field">
        <label for="email">E-mail address</label>
        <v-text-field id="email" v-model="email" type="email" autocomplete="username" required />
      </div>
      <div class="field">
        <label for="password">Password</label>
        <v-text-field
          id="password"
          v-model="password"
          type="password"
          autocomplete="current-password"
          required
        />
      </div>
      <LineField
        v-if="asksCode"
        v-model="code"
        label="Code of your second device, or one on paper"
        autocomplete="one-time-code"
        :most="40"
        needed
        focused
      />
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <p class="btns">
        <v-btn type="submit" variant="flat" :disabled="busy">Sign in</v-btn>
        <v-btn v-if="session.mayForget" variant="text" to="/forgotten">
          My password is forgotten
        </v-btn>
      </p>
    </form>
    <section v-if="session.demo" aria-label="Demo">
      <h2 class="section">
        Look around as
        <span>demo firm, made-up people</span>
      </h2>
      <v-list-item
        v-for="p in PEOPLE"
        :key="p.who"
        class="li"
        role="button"
        :disabled="busy"
        @click="enter(() => session.signInAs(p.who))"
      >
        <b>{{ p.name }}</b>
        <span class="s">Enter</span>
        <small>{{ p.about }}</small>
      </v-list-item>
    </section>
  </main>
</template>

<style scoped>
.door {
  max-width: 400px;
  margin: 0 auto;
  padding: 9vh 20px 40px;
}
h1 {
  margin-top: 8px;
}
.sprig {
  color: var(--fern);
}
form {
  margin: 22px 0 26px;
}
.wrong {
  margin-bottom: 8px;
}
.li {
  padding-inline: 2px;
}
.li:hover b {
  color: var(--fern);
}
</style>
