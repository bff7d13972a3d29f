<script setup lang="ts">
import { mdiTrayArrowDown } from '@mdi/js'
import { ref } from 'vue'

/** Files, chosen or dropped; told at once, whatever becomes of them. */
defineProps<{ title: string; label: string; accept?: string; multiple?: boolean; busy?: boolean }>()
const emit = defineEmits<{ files: [files: File[]] }>()
/** Anew each time, so that the same file can be chosen twice. */
const turn = ref(0)
function take(files: File | File[]): void {
  turn.value++
  emit('files', [files].flat())
}
</script>

<template>
  <v-file-upload
    :key="turn"
    class="filedrop"
    density="compact"
    :model-value="[]"
    :title="title"
    :aria-label="label"
    :accept="accept"
    :multiple="multiple"
    :disabled="busy"
    :icon="mdiTrayArrowDown"
    browse-text="Choose"
    hide-details
    @update:model-value="take"
  />
</template>
