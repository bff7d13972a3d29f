<script setup lang="ts">
import { useId } from 'vue'

/** A line of text, an address or a password in a form, under its label, with what is wrong with it. */
const value = defineModel<string>({ required: true })
withDefaults(
  defineProps<{
    label: string
    most?: number
    least?: number
    type?: 'text' | 'email' | 'password'
    /** What browsers fill it with. */
    autocomplete?: string
    fault?: string
    placeholder?: string
    needed?: boolean
    /** It is what is to be filled in now. */
    focused?: boolean
  }>(),
  { most: 120, type: 'text', autocomplete: 'off', fault: '', placeholder: '' },
)
const id = useId()
</script>

<template>
  <div class="field">
    <label :for="id">{{ label }}</label>
    <v-text-field
      :id="id"
      v-model="value"
      :type="type"
      :autocomplete="autocomplete"
      :minlength="least"
      :maxlength="most"
      :required="needed"
      :autofocus="focused"
      :placeholder="placeholder"
      :error-messages="fault"
    />
  </div>
</template>
