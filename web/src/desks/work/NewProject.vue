<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import type { ProjectSheet } from '#contract/projects.ts'
import { post, sentence } from '#web/api/client.ts'
import DateField from '#web/parts/DateField.vue'
import { useSession } from '#web/state/session.ts'
import { withNone } from '#web/parts/choices.ts'

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
  <v-btn @click="open = true">Start an empty one</v-btn>
  <v-dialog v-model="open" max-width="440">
    <form class="dialog" @submit.prevent="make">
      <h3>An empty project</h3>
      <div class="field">
        <label for="np-name">Name</label>
        <v-text-field id="np-name" v-model="name" maxlength="120" required />
      </div>
      <div class="field">
        <label for="np-client">Client</label>
        <v-autocomplete
          id="np-client"
          v-model="clientId"
          :items="withNone(session.directory.clients, 'none')"
        />
      </div>
      <div class="field">
        <label for="np-date">Deadline, if it has one</label>
        <DateField id="np-date" v-model="anchor" />
      </div>
      <div class="field">
        <label for="np-phases">Phases, with commas between</label>
        <v-text-field id="np-phases" v-model="phases" placeholder="Gather, Close" />
      </div>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <div class="btns">
        <v-btn type="submit" variant="flat">Make it</v-btn>
        <v-btn @click="open = false">Leave it</v-btn>
      </div>
    </form>
  </v-dialog>
</template>
