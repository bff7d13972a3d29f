<script setup lang="ts">
import { mdiCheck } from '@mdi/js'
import { computed, nextTick, useTemplateRef } from 'vue'
import type { RouteLocationRaw } from 'vue-router'
import Glyph from './Glyph.vue'

/** What a line of a menu does, or where it leads; `on` makes it something that is chosen or not. */
export interface MenuLine {
  readonly name: string
  readonly run?: () => unknown
  readonly to?: RouteLocationRaw
  /** A file to take out. */
  readonly file?: string
  readonly on?: boolean
  readonly hint?: string
  /** A colour of the palette, for what has one of its own. */
  readonly colour?: string | null
}

/**
 * A menu of lines, gone through by arrows, Home, End and first letters. With `several` it stays
 * open while lines are chosen. The slot holds what opens it; `head` what stands above the lines.
 */
const { lines, several = false } = defineProps<{
  label: string
  lines: readonly (MenuLine | false | null | undefined)[]
  several?: boolean
  disabled?: boolean
}>()
const shown = computed(() => lines.filter((line) => !!line))
const roleOf = (line: MenuLine) =>
  line.on === undefined ? 'menuitem' : several ? 'menuitemcheckbox' : 'menuitemradio'

const list = useTemplateRef<{ $el: HTMLElement }>('list')
/** What is chosen already, else the first line, has the focus when the menu opens. */
async function opened(is: boolean): Promise<void> {
  if (!is) return
  await nextTick()
  const on = ['.v-list-item.on', '.v-list-item']
  const lines = on.map((of) => list.value?.$el.querySelector<HTMLElement>(of))
  lines.find(Boolean)?.focus({ preventScroll: true })
}
/** Goes to the next line that begins with the letter typed. */
function letter(event: KeyboardEvent): void {
  if (event.key.length !== 1 || event.ctrlKey || event.metaKey || event.key === ' ') return
  const all = [
    ...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('.v-list-item'),
  ]
  const from = all.indexOf(document.activeElement as HTMLElement)
  const next = [...all.slice(from + 1), ...all.slice(0, from + 1)].find((line) =>
    line.textContent?.trim().toLowerCase().startsWith(event.key.toLowerCase()),
  )
  event.stopPropagation()
  next?.focus()
}
</script>

<template>
  <v-menu :close-on-content-click="!several" :disabled="disabled" @update:model-value="opened">
    <template #activator="{ props }">
      <slot :props="props">
        <v-btn v-bind="props" :aria-label="label">⋯</v-btn>
      </slot>
    </template>
    <v-list ref="list" role="menu" tabindex="0" :aria-label="label" @keydown="letter">
      <slot name="head" />
      <v-list-item
        v-for="(line, i) in shown"
        :key="i"
        :role="roleOf(line)"
        :aria-checked="line.on"
        :to="line.to"
        :href="line.file"
        :download="line.file ? '' : undefined"
        :class="[{ on: line.on }, line.colour ? `c-${line.colour}` : '']"
        @click="line.run?.()"
      >
        <span :class="{ tint: line.colour }">{{ line.name }}</span>
        <span v-if="line.hint" class="small quiet">{{ ` ${line.hint}` }}</span>
        <template v-if="line.on" #append><Glyph :path="mdiCheck" :size="15" /></template>
      </v-list-item>
    </v-list>
  </v-menu>
</template>
