<script setup lang="ts">
import { everythingWith, type Gathered } from '#web/state/everything.ts'

/**
 * Several of what there is to choose from, as chips, found by typing. Says what was put on or taken
 * off, one at a time, so that two people who change the list at once lose nothing of each other's.
 */
const { chosen, items } = defineProps<{
  id?: string
  label: string
  chosen: readonly number[]
  items: readonly { id: number; name: string; colour?: string }[]
  none?: string
  /** Where one of them leads, pressed by its name. */
  to: Gathered
  readonly?: boolean
}>()
const emit = defineEmits<{ toggle: [id: number] }>()
const nameOf = (id: number) => items.find((item) => item.id === id)?.name ?? `#${id}`
function take(now: readonly number[]): void {
  for (const id of chosen) if (!now.includes(id)) emit('toggle', id)
  for (const id of now) if (!chosen.includes(id)) emit('toggle', id)
}
</script>

<template>
  <v-autocomplete
    :id="id"
    class="several"
    multiple
    chips
    closable-chips
    hide-selected
    clear-on-select
    :readonly="readonly"
    :aria-label="label"
    :placeholder="chosen.length ? undefined : none"
    persistent-placeholder
    :model-value="chosen"
    :items="items"
    item-title="name"
    item-value="id"
    @update:model-value="take"
  >
    <template #chip="{ props: chip, internalItem: item }">
      <v-chip
        v-bind="chip"
        :closable="!readonly"
        :close-label="`Take ${nameOf(item.value)} off`"
        :class="item.raw?.colour ? `tint c-${item.raw.colour}` : ''"
      >
        <!-- By keyboard one comes there from the find box, by its name. -->
        <router-link tabindex="-1" :to="everythingWith(to, item.value)" @mousedown.stop @click.stop>
          {{ nameOf(item.value) }}
        </router-link>
      </v-chip>
    </template>
  </v-autocomplete>
</template>
