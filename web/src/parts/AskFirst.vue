<script setup lang="ts">
import { computed, shallowRef } from 'vue'
import { whenInDoubt } from '#web/api/client.ts'
import { useSession } from '#web/state/session.ts'

/** What the server asks about before it does it, put to a manager; others are told no. */
const session = useSession()
const asked = shallowRef<{ sentence: string; answer: (yes: boolean) => void } | null>(null)
whenInDoubt((sentence) =>
  session.me?.may.structure
    ? new Promise((answer) => (asked.value = { sentence, answer }))
    : Promise.resolve(false),
)
function answer(yes: boolean): void {
  asked.value?.answer(yes)
  asked.value = null
}
const shown = computed({
  get: () => asked.value !== null,
  set: (on) => on || answer(false),
})
</script>

<template>
  <v-dialog v-model="shown" max-width="440" aria-label="Asked first">
    <v-card v-if="asked" title="Asked first">
      <v-card-text>{{ asked.sentence }}</v-card-text>
      <v-card-actions>
        <v-btn @click="answer(false)">Choose somebody else</v-btn>
        <v-btn variant="flat" @click="answer(true)">Do it all the same</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>
