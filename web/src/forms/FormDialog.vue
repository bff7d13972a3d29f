<script setup lang="ts" generic="T extends object">
import { computed, nextTick, onBeforeUnmount, onMounted, ref } from 'vue'
import { useFocusBack } from '#web/parts/focus-back.ts'
import type { DialogForm } from './useDialogForm.ts'

/**
 * A dialog that asks for something short. Enter sends it, Esc leaves it; a press beside it leaves it
 * only while nothing was written. The slot holds the fields: what is wrong with one stands at it,
 * with whatever is not among `places` below.
 */
const props = withDefaults(
  defineProps<{
    title: string
    /** What sending it does, on the button. */
    does: string
    form: DialogForm<T>
    leave?: string
    places?: readonly string[]
    ready?: boolean
  }>(),
  { leave: 'Leave it', places: () => [], ready: true },
)
const emit = defineEmits<{ close: [] }>()
const { note, giveBack } = useFocusBack()
note()
onBeforeUnmount(giveBack)
const written = ref<HTMLFormElement | null>(null)
onMounted(async () => {
  await nextTick()
  written.value?.querySelector<HTMLElement>('input, textarea')?.focus()
})
const wrong = computed(() =>
  [
    props.form.fault,
    ...Object.entries(props.form.faults)
      .filter(([at]) => !props.places.some((place) => at === place || at.startsWith(`${place}.`)))
      .map(([, said]) => said),
  ]
    .filter(Boolean)
    .join(' '),
)
</script>

<template>
  <v-dialog
    :model-value="true"
    max-width="480"
    :persistent="form.dirty"
    no-click-animation
    :aria-label="title"
    @update:model-value="emit('close')"
    @keydown.esc="form.dirty && !$event.defaultPrevented && emit('close')"
  >
    <form ref="written" class="dialog" @submit.prevent="form.submit">
      <h3>{{ title }}</h3>
      <slot v-if="form.draft" :draft="form.draft as T" :fault-at="form.faultAt" />
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <div class="btns">
        <v-btn type="submit" variant="flat" :disabled="!ready || form.busy">{{ does }}</v-btn>
        <v-btn @click="emit('close')">{{ leave }}</v-btn>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.btns {
  margin-top: 12px;
}
</style>
