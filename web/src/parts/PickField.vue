<script setup lang="ts">
import { onBeforeUnmount, useTemplateRef, watch } from 'vue'
import { escapes } from './escape.ts'

/**
 * The field of something that is typed or picked: taken when it is left or Enter is pressed, put back
 * by Esc, its picker (the slot) opened by the button in it or by the arrow down. `leave` takes what
 * was typed and answers whether it could be read; `back` whether there was anything to put back.
 */
const picking = defineModel<boolean>('picking', { required: true })
const props = defineProps<{
  id?: string
  label?: string
  disabled?: boolean
  text: string
  wrong: string
  /** What is understood so far, while something is typed. */
  heard?: string
  typing: boolean
  none: string
  icon: string
  opens: string
  leave: () => boolean
  back: () => boolean
}>()
const emit = defineEmits<{ type: [text: string] }>()
onBeforeUnmount(() => props.leave())
// Whoever is still there when it was taken types another next.
const box = useTemplateRef<{ $el: HTMLElement }>('box')
watch(
  () => props.text,
  () => {
    const input = box.value?.$el.querySelector('input')
    if (!props.typing && input && input === document.activeElement) input.select()
  },
  { flush: 'post' },
)
function key(event: KeyboardEvent): void {
  if (event.key === 'Enter') {
    // A form is sent with what was understood, and not at all where nothing was.
    if (!props.leave()) event.preventDefault()
  } else if (event.key === 'ArrowDown' && !props.disabled) {
    event.preventDefault()
    picking.value = true
  } else escapes(event, () => props.back())
}
</script>

<template>
  <v-text-field
    :id="id"
    ref="box"
    class="pickfield"
    maxlength="60"
    autocomplete="off"
    :aria-label="label"
    :readonly="disabled"
    :model-value="text"
    :error-messages="wrong"
    :messages="heard"
    :placeholder="none"
    @update:model-value="emit('type', $event ?? '')"
    @focus="($event.target as HTMLInputElement).select()"
    @blur="leave"
    @keydown="key"
  >
    <template v-if="!disabled" #append-inner>
      <v-menu v-model="picking" :close-on-content-click="false" location="bottom end">
        <template #activator="{ props: menu }">
          <v-btn v-bind="menu" icon tabindex="-1" :aria-label="opens" aria-haspopup="dialog">
            <v-icon :icon="icon" size="17" />
          </v-btn>
        </template>
        <v-sheet role="dialog" :aria-label="label ?? opens"><slot /></v-sheet>
      </v-menu>
    </template>
  </v-text-field>
</template>

<style scoped>
@media (pointer: coarse) {
  /* The button is as high as the field then: what is typed stands beside its middle. */
  .pickfield :deep(.v-field__append-inner) {
    padding-block: 0;
  }
  .pickfield :deep(.v-field) {
    align-items: center;
  }
}
.pickfield {
  flex: none;
}
</style>
