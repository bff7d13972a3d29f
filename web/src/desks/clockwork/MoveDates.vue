<script setup lang="ts">
import { ref, watch } from 'vue'
import type { DateOf, Decided } from '#contract/series.ts'
import { post, sentence } from '#web/api/client.ts'
import DateField from '#web/parts/DateField.vue'
import { plural, sayDate } from '#web/parts/say.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'

/** Asks where dates of series are to be moved; null: nothing is asked. */
const dates = defineModel<readonly (DateOf & { readonly date: string })[] | null>({
  required: true,
})
const emit = defineEmits<{ moved: [] }>()
const session = useSession()
const messages = useMessages()
const to = ref<string | null>(null)
const wrong = ref('')
watch(dates, (now) => {
  to.value = now?.[0]?.date.slice(0, 10) ?? null
  wrong.value = ''
})
const what = () => {
  const [first, ...more] = dates.value ?? []
  return first && !more.length
    ? sayDate(first.date, session.today)
    : plural(dates.value?.length ?? 0, 'date')
}
async function move(): Promise<void> {
  if (!dates.value || !to.value) return
  try {
    const chosen = dates.value.map(({ series, scheduled }) => ({ series, scheduled }))
    const body = { deed: 'move', to: to.value, dates: chosen }
    const decided = await post<Decided>('/series/decide', body)
    messages.did(
      [`Moved to ${sayDate(to.value, session.today)}.`, ...decided.left].join(' '),
      decided,
    )
    dates.value = null
    emit('moved')
  } catch (problem) {
    wrong.value = sentence(problem)
  }
}
</script>

<template>
  <v-dialog
    :model-value="dates !== null"
    max-width="400"
    aria-label="Where it is moved"
    @update:model-value="dates = null"
  >
    <v-card v-if="dates" :title="`Move ${what()}`">
      <v-form @submit.prevent="move">
        <v-card-text>
          <p class="quiet">Later dates stay where they are.</p>
          <div class="field">
            <label for="md-to">To</label>
            <DateField id="md-to" v-model="to" />
          </div>
          <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        </v-card-text>
        <v-card-actions>
          <v-btn @click="dates = null">Leave it</v-btn>
          <v-btn type="submit" variant="flat">Move it</v-btn>
        </v-card-actions>
      </v-form>
    </v-card>
  </v-dialog>
</template>
