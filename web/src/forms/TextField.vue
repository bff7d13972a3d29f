<script setup lang="ts">
import { useId } from 'vue'

/** Several lines of text in a form, under their label, with what is wrong with them. */
const value = defineModel<string>({ required: true })
withDefaults(defineProps<{ label: string; most?: number; rows?: number; fault?: string }>(), {
  most: 5_000,
  rows: 3,
  fault: '',
})
const id = useId()
</script>

<template>
  <div class="field">
    <label :for="id">{{ label }}</label>
    <v-textarea :id="id" v-model="value" :rows="rows" :maxlength="most" :error-messages="fault" />
  </div>
</template>
