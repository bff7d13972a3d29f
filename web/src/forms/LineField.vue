<script setup lang="ts">
import { useId } from 'vue'

/** A line of text in a form, under its label, with what is wrong with it. */
const value = defineModel<string>({ required: true })
withDefaults(
  defineProps<{
    label: string
    most?: number
    fault?: string
    placeholder?: string
    needed?: boolean
  }>(),
  { most: 120, fault: '', placeholder: '' },
)
const id = useId()
</script>

<template>
  <div class="field">
    <label :for="id">{{ label }}</label>
    <v-text-field
      :id="id"
      v-model="value"
      :maxlength="most"
      :required="needed"
      :placeholder="placeholder"
      :error-messages="fault"
    />
  </div>
</template>
