<script setup lang="ts">
import { useId } from 'vue'
import type { Coded } from '#contract/firm.ts'

/** One of a long list in a form, under its label, found by typing, with what is wrong with it. */
const code = defineModel<string>({ required: true })
defineProps<{ label: string; items: readonly Coded[]; fault: string }>()
const id = useId()
</script>

<template>
  <div class="field">
    <label :for="id">{{ label }}</label>
    <v-autocomplete
      :id="id"
      v-model="code"
      :items="items"
      item-title="name"
      item-value="code"
      :error-messages="fault"
    />
  </div>
</template>
