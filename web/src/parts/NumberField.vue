<script setup lang="ts">
import { ref, useTemplateRef, watch } from 'vue'
import { readNumber } from './read-number.ts'

/**
 * A number as people type it. What is not understood stays as it stands, says what would be right,
 * and keeps its form from being sent.
 */
const number = defineModel<number | null>({ required: true })
const {
  label,
  min = 0,
  max = 1_000_000,
  whole = true,
  empty = false,
} = defineProps<{
  label: string
  min?: number
  max?: number
  whole?: boolean
  empty?: boolean
}>()
const emit = defineEmits<{ wrong: [is: boolean] }>()
const field = useTemplateRef<{ $el: HTMLElement }>('field')
const typed = ref('')
const wrong = ref('')
const say = (value: number | null) => (value === null ? '' : String(value))
watch(
  number,
  (value) => {
    if (!wrong.value) typed.value = say(value)
  },
  { immediate: true },
)
function take(text: string): void {
  typed.value = text
  const read = readNumber(text, { min, max, whole, empty })
  wrong.value = 'wrong' in read ? read.wrong : ''
  field.value?.$el.querySelector('input')?.setCustomValidity(wrong.value)
  emit('wrong', wrong.value !== '')
  if ('number' in read) number.value = read.number
}
</script>

<template>
  <v-text-field
    ref="field"
    class="number"
    :model-value="typed"
    :aria-label="label"
    :error-messages="wrong ? [wrong] : []"
    inputmode="decimal"
    autocomplete="off"
    @update:model-value="take(String($event ?? ''))"
  />
</template>

<style scoped>
.number {
  display: inline-grid;
  width: 80px;
  flex: none;
  vertical-align: middle;
}
.number :deep(.v-field) {
  --v-field-padding-start: 8px;
  --v-field-padding-end: 8px;
}
.number:not(.v-input--readonly, fieldset:disabled *) :deep(.v-field) {
  background: var(--sheet);
}
.number :deep(input) {
  min-height: 32px;
  padding: 4px 0;
  text-align: center;
}
/* The frame shows the focus. */
.number :deep(input):focus-visible {
  outline: none;
}
.number :deep(.v-input__details) {
  padding: 2px 0 0;
}
.number :deep(.v-input__details),
.number :deep(.v-messages) {
  overflow: visible;
}
.number :deep(.v-messages__message) {
  white-space: nowrap;
}
</style>
