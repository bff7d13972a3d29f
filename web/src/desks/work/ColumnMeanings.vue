<script setup lang="ts">
import type { Rows } from './bring-in.ts'

/** What each column of a table means: the field it becomes, or none. */
const mapping = defineModel<string[]>({ required: true })
defineProps<{ file: Rows; fields: readonly { field: string; name: string }[] }>()
</script>

<template>
  <v-table>
    <thead>
      <tr>
        <th>Column</th>
        <th>For example</th>
        <th>Becomes</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(heading, c) in file.headings" :key="c">
        <td>{{ heading || `Column ${c + 1}` }}</td>
        <td class="quiet">{{ file.rows.find((r) => r[c]?.trim())?.[c]?.slice(0, 50) }}</td>
        <td>
          <v-autocomplete
            v-model="mapping[c]"
            :aria-label="`What ${heading || `column ${c + 1}`} becomes`"
            :items="[
              { value: '', title: 'left out' },
              ...fields.map((f) => ({ value: f.field, title: f.name })),
            ]"
          />
        </td>
      </tr>
    </tbody>
  </v-table>
</template>

<style scoped>
td .v-input {
  max-width: 240px;
}
</style>
