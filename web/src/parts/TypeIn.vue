<script setup lang="ts">
import { onBeforeUnmount, onMounted, toRef, useTemplateRef, watch } from 'vue'
import { escapes } from './escape.ts'
import { useTyped } from './useTyped.ts'

/**
 * A line that keeps what is being typed whatever arrives meanwhile, and says it when it is left,
 * when Enter is pressed, or when what holds it closes; `left` follows. `check` tells what is wrong
 * with a text; such a text stays and is not said.
 */
defineOptions({ inheritAttrs: false })
const props = defineProps<{
  value: string
  label?: string
  autofocus?: boolean
  most?: number
  check?: (text: string) => string | null
}>()
const emit = defineEmits<{ typed: [text: string]; left: [] }>()
const field = useTemplateRef<{ $el: HTMLElement; focus(): void; blur(): void }>('field')
const { text, wrong, type, leave, back } = useTyped({
  value: toRef(() => props.value),
  say: (value) => value,
  read: (typed) => {
    const fault = typed === '' ? null : (props.check?.(typed) ?? null)
    return fault === null ? { value: typed } : { wrong: fault }
  },
  take: (value) => emit('typed', value),
})
onMounted(() => props.autofocus && field.value?.focus())
// A form that it stands in is not sent without what was typed here.
watch(wrong, (said) => field.value?.$el.querySelector('input')?.setCustomValidity(said))
const blurred = () => leave() && emit('left')
onBeforeUnmount(leave)
</script>

<template>
  <v-text-field
    v-bind="$attrs"
    ref="field"
    :model-value="text"
    :aria-label="label"
    :error-messages="wrong"
    :maxlength="most"
    @update:model-value="type($event ?? '')"
    @blur="blurred"
    @keydown.enter="field?.blur()"
    @keydown.esc="escapes($event, back)"
  />
</template>
