<script setup lang="ts">
import { useId } from 'vue'
import FileDrop from './FileDrop.vue'

/** Things a line each: typed, pasted, or, with `file`, from one that is put below what stands there. */
const lines = defineModel<string>({ required: true })
defineProps<{ label: string; placeholder: string; file?: string }>()
const id = useId()
async function take(files: readonly File[]): Promise<void> {
  for (const file of files) lines.value = `${lines.value}\n${await file.text()}`.trim()
}
</script>

<template>
  <div class="field">
    <label :for="id">{{ label }}</label>
    <v-textarea :id="id" v-model="lines" rows="4" :placeholder="placeholder" maxlength="60000" />
  </div>
  <FileDrop v-if="file" :title="file" label="CSV file" @files="take" />
</template>
