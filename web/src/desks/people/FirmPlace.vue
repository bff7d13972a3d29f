<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { FirmSheet, Places } from '#contract/firm.ts'
import { put } from '#web/api/client.ts'
import ChoiceField from '#web/forms/ChoiceField.vue'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useResource } from '#web/state/resource.ts'

/** Where the firm is: its holidays come with that, from today on. */
const props = defineProps<{ firm: FirmSheet }>()
const emit = defineEmits<{ changed: [] }>()
const messages = useMessages()
const { wrong, busy, attempt } = useAttempt('here')
const country = ref('')
const region = ref('')
watch(
  () => props.firm,
  (firm) => {
    country.value = firm.country ?? ''
    region.value = firm.region ?? ''
  },
  { immediate: true },
)
const { data: places } = useResource<Places>(
  () => `/firm/places${country.value ? `?country=${country.value}` : ''}`,
  () => false,
  { keep: true },
)
const regions = computed(() => [
  { code: '', name: 'the whole country' },
  ...(places.value?.regions ?? []),
])
watch(regions, (now) => {
  if (!now.some(({ code }) => code === region.value)) region.value = ''
})
const moved = computed(
  () => country.value !== (props.firm.country ?? '') || region.value !== (props.firm.region ?? ''),
)
const move = () =>
  attempt(async () => {
    const body = { country: country.value, region: region.value || null }
    messages.did(
      'Its holidays from today on are those of the place.',
      await put('/firm/place', body),
    )
    emit('changed')
  })
</script>

<template>
  <form @submit.prevent="move">
    <h2 class="section">
      Where it is
      <span>its public holidays, from today on</span>
    </h2>
    <div class="two">
      <ChoiceField
        v-model="country"
        label="Country"
        :items="places?.countries ?? []"
        :fault="wrong"
      />
      <ChoiceField v-model="region" label="Region" :items="regions" fault="" />
    </div>
    <v-btn type="submit" :disabled="busy || !country || !moved">Use its holidays</v-btn>
  </form>
</template>
