<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'

/**
 * An input that keeps what is being typed whatever arrives meanwhile, and says it when it is left,
 * when Enter is pressed, or when what holds it closes; `left` follows. `check` tells what is wrong
 * with a text; such a text stays and is not said.
 */
defineOptions({ inheritAttrs: false })
const props = withDefaults(
  defineProps<{
    value: string
    id?: string
    type?: string
    label?: string
    autofocus?: boolean
    readonly?: boolean
    disabled?: boolean
    placeholder?: string
    most?: number
    check?: (text: string) => string | null
  }>(),
  { type: 'text' },
)
const emit = defineEmits<{ typed: [text: string]; left: [] }>()
const box = ref<HTMLInputElement | null>(null)
const text = ref(props.value)
const typing = ref(false)
const wrong = ref('')
watch(
  () => props.value,
  (now) => {
    if (typing.value) return
    text.value = now
    wrong.value = ''
  },
)
onMounted(() => props.autofocus && box.value?.focus())
function leave(): void {
  take()
  if (wrong.value === '') emit('left')
}
function take(): void {
  if (!typing.value) return
  const fault = text.value === '' ? null : (props.check?.(text.value) ?? null)
  wrong.value = fault ?? ''
  if (fault !== null) return
  typing.value = false
  if (text.value !== props.value) emit('typed', text.value)
}
onBeforeUnmount(take)
</script>

<template>
  <input
    :id="id"
    ref="box"
    v-model="text"
    class="inp"
    v-bind="$attrs"
    :type="type"
    :disabled="disabled"
    :aria-label="label"
    :aria-invalid="wrong !== ''"
    :readonly="readonly"
    :placeholder="placeholder"
    :maxlength="most"
    @input="typing = true"
    @blur="leave"
    @keydown.enter="($event.target as HTMLElement).blur()"
  />
  <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
</template>
