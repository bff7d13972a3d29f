<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import type { ProjectSheet } from '#contract/projects.ts'
import { post, sentence } from '#web/api/client.ts'
import DateField from '#web/parts/DateField.vue'
import { useSession } from '#web/state/session.ts'

/** A project without a template. */
const session = useSession()
const router = useRouter()
const open = ref(false)
const wrong = ref('')
const name = ref('')
const clientId = ref<number | null>(null)
const anchor = ref<string | null>(null)
const phases = ref('')
async function make(): Promise<void> {
  wrong.value = ''
  try {
    const made = await post<ProjectSheet>('/projects', {
      name: name.value,
      clientId: clientId.value,
      anchor: anchor.value,
      phases: phases.value
        .split(',')
        .map((p) => p.trim())
        .filter(Boolean),
    })
    open.value = false
    await session.read()
    await router.push(`/work/${made.id}`)
  } catch (error) {
    wrong.value = sentence(error)
  }
}
</script>

<template>
  <button class="btn" @click="open = true">Start an empty one</button>
  <v-dialog v-model="open" max-width="440">
    <form class="dialog" @submit.prevent="make">
      <h3>An empty project</h3>
      <div class="field">
        <label for="np-name">Name</label>
        <input id="np-name" v-model="name" class="inp" maxlength="120" required />
      </div>
      <div class="field">
        <label for="np-client">Client</label>
        <select id="np-client" v-model="clientId" class="inp">
          <option :value="null">none</option>
          <option v-for="c in session.directory.clients" :key="c.id" :value="c.id">
            {{ c.name }}
          </option>
        </select>
      </div>
      <div class="field">
        <label for="np-date">Deadline, if it has one</label>
        <DateField id="np-date" v-model="anchor" />
      </div>
      <div class="field">
        <label for="np-phases">Phases, with commas between</label>
        <input id="np-phases" v-model="phases" class="inp" placeholder="Gather, Close" />
      </div>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <div class="btns">
        <button class="btn pri">Make it</button>
        <button class="btn" type="button" @click="open = false">Leave it</button>
      </div>
    </form>
  </v-dialog>
</template>
