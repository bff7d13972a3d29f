<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { computed, inject, nextTick, ref, useTemplateRef } from 'vue'
import type { About } from '#contract/actions/action.ts'
import { mergeFieldsOf } from '#contract/merge-fields.ts'
import type { FilledText } from '#contract/rules.ts'
import { post } from '#web/api/client.ts'
import LineMenu from '#web/parts/LineMenu.vue'
import { SAMPLE } from './sample.ts'

/**
 * A line in which fields in braces are filled when it is said: they are offered beside it, and what
 * begins with a brace is finished by Tab.
 */
const text = defineModel<string>({ required: true })
const props = defineProps<{
  label: string
  most: number
  about: About
  /** What is meant where nothing is written. */
  none?: string | undefined
  locked?: boolean | undefined
}>()
const field = useTemplateRef<{ $el: HTMLElement }>('field')
const input = () => field.value?.$el.querySelector('input') ?? null
const typed = ref<string | null>(null)
const shown = computed(() => typed.value ?? text.value)
const fields = computed(() => mergeFieldsOf(props.about))
/** What is written after a brace that is not closed yet, before the caret. */
function begun(): { from: number; to: number; word: string } | null {
  const to = input()?.selectionStart ?? shown.value.length
  const before = shown.value.slice(0, to)
  const from = before.lastIndexOf('{')
  return from < 0 || before.includes('}', from)
    ? null
    : {
        from,
        to,
        word: before
          .slice(from + 1)
          .trimStart()
          .toLowerCase(),
      }
}
const open = ref<readonly string[]>([])
const look = () => {
  const at = begun()
  open.value = at
    ? fields.value.map(({ name }) => name).filter((name) => name.startsWith(at.word))
    : []
}
/** What Tab puts in, and what else begins so. */
const offer = computed(() => {
  const [first, ...others] = open.value
  if (first === undefined) return ''
  return `Tab for {${first}}${others.length ? `, or ${others.slice(0, 3).join(', ')}` : ''}`
})
async function put(name: string): Promise<void> {
  const at = begun()
  const caret = at?.to ?? input()?.selectionStart ?? shown.value.length
  const start = at?.from ?? caret
  const next = `${shown.value.slice(0, start)}{${name}}${shown.value.slice(caret)}`
  typed.value = next.slice(0, props.most)
  open.value = []
  await nextTick()
  input()?.focus()
  const end = start + name.length + 2
  input()?.setSelectionRange(end, end)
}
function tab(event: KeyboardEvent): void {
  const [first] = open.value
  if (first === undefined || event.shiftKey) return
  event.preventDefault()
  void put(first)
}
function type(next: string): void {
  typed.value = next
  void nextTick(look)
}
/** What it would say of something real, while somebody is at it. */
const sample = inject(SAMPLE, null)
const here = ref(false)
const filled = ref<FilledText | null>(null)
watchDebounced(
  () => {
    const text = shown.value
    return here.value && text.includes('{') && sample?.value ? { ...sample.value, text } : null
  },
  async (asked) => {
    filled.value = asked ? await post<FilledText>('/rules/fill', asked).catch(() => null) : null
  },
  { debounce: 250 },
)
const preview = computed(() => {
  if (!filled.value || !here.value) return ''
  const { title, text, empty } = filled.value
  const names = empty.map((name) => `{${name}}`).join(', ')
  const none = names && `; ${names} ${empty.length > 1 ? 'are' : 'is'} empty there`
  return `Of “${title}” it says: ${text}${none}`
})
function leave(): void {
  here.value = false
  open.value = []
  if (typed.value !== null && typed.value !== text.value) text.value = typed.value
  typed.value = null
}
</script>

<template>
  <span class="merge">
    <v-text-field
      ref="field"
      class="text"
      :aria-label="label"
      :maxlength="most"
      :placeholder="none"
      :readonly="locked"
      :model-value="shown"
      @update:model-value="type($event ?? '')"
      @click="look"
      @keydown.tab="tab"
      @keyup="look"
      @focus="here = true"
      @blur="leave"
    />
    <LineMenu
      v-if="!locked"
      label="Also name what it is about"
      :lines="fields.map(({ name, label: hint }) => ({ name, hint, run: () => put(name) }))"
    >
      <template #default="{ props: menu }">
        <v-btn v-bind="menu" variant="text" class="small" aria-label="Also name what it is about">
          {…}
        </v-btn>
      </template>
    </LineMenu>
    <span v-if="offer" class="small quiet offer" role="status">{{ offer }}</span>
    <span v-else-if="preview" class="small quiet offer">{{ preview }}</span>
  </span>
</template>

<style scoped>
.merge {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 2px 4px;
  align-items: center;
  width: 100%;
  max-width: 470px;
}
.text {
  flex: 1 1 260px;
  margin: 2px 0;
}
.offer {
  flex-basis: 100%;
}
</style>
