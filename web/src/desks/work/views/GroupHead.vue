<script setup lang="ts">
import { mdiChevronDown, mdiChevronRight } from '@mdi/js'
import type { OutlineGroup } from '#contract/query.ts'
import Glyph from '#web/parts/Glyph.vue'
import { fieldOf, paletteOf, sayCount, saySum } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'

/** The head of a group of rows: its name, how many and how much, and whether it is open. */
defineProps<{ group: OutlineGroup; known: Known; width: number; folded: boolean; stop: boolean }>()
const emit = defineEmits<{ fold: [] }>()
</script>

<template>
  <div role="row" class="ghead" :class="group.colour ? `c-${paletteOf(group.colour)}` : ''">
    <span role="gridcell" class="gname" :style="{ width: `${width}px` }">
      <v-btn
        variant="plain"
        :tabindex="stop ? 0 : -1"
        :aria-expanded="!folded"
        @click="emit('fold')"
      >
        <Glyph :path="folded ? mdiChevronRight : mdiChevronDown" :size="17" />
        {{ group.name }}
      </v-btn>
      <span class="quiet">{{ sayCount(group.ids.length, group.minutes) }}</span>
      <span v-for="(sum, field) in group.sums" v-show="sum" :key="field" class="quiet">
        {{ fieldOf(known, String(field))?.label }} {{ saySum(known, String(field), sum) }}
      </span>
    </span>
  </div>
</template>

<style scoped>
.ghead {
  height: 100%;
  display: flex;
  align-items: flex-end;
  padding-bottom: 5px;
  border-bottom: 1.5px solid var(--rule-strong);
}
.gname {
  position: sticky;
  left: 0;
  display: flex;
  gap: 12px;
  align-items: center;
  font: 600 13px var(--sans);
  color: var(--own, var(--ink));
  white-space: nowrap;
  overflow: hidden;
}
.gname button {
  display: inline-flex;
  gap: 4px;
  align-items: center;
  font-weight: 600;
  overflow: hidden;
  text-overflow: ellipsis;
}
.gname .quiet {
  font-weight: 500;
  font-size: 12px;
}
</style>
