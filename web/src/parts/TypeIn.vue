<script setup lang="ts">
import { ref, watch } from 'vue'

/** An input that keeps what is being typed whatever arrives meanwhile, and says it when it is left or Enter is pressed. */
const props = withDefaults(defineProps<{ value: string; id?: string; type?: string; label?: string; readonly?: boolean; disabled?: boolean; placeholder?: string; most?: number }>(), { type: 'text' })
const emit = defineEmits<{ typed: [text: string] }>()
const text = ref(props.value)
const typing = ref(false)
watch(() => props.value, (now) => { if (!typing.value) text.value = now })
function leave(): void {
  typing.value = false
  if (text.value !== props.value) emit('typed', text.value)
}
</script>

<template>
  <input :id="id" v-model="text" class="inp" :type="type" :step="type === 'number' ? 'any' : undefined" :disabled="disabled" :aria-label="label" :readonly="readonly" :placeholder="placeholder" :maxlength="most" @input="typing = true" @blur="leave" @keydown.enter="($event.target as HTMLElement).blur()" />
</template>
