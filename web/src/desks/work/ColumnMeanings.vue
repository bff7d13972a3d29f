<script setup lang="ts">
import type { Rows } from './bring-in.ts'

/** What each column of a table means: the field it becomes, or none. */
const mapping = defineModel<string[]>({ required: true })
defineProps<{ file: Rows; fields: readonly { field: string; name: string }[] }>()
</script>

<template>
  <table class="plain">
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
          <select
            v-model="mapping[c]"
            class="inp"
            :aria-label="`What ${heading || `column ${c + 1}`} becomes`"
          >
            <option value="">left out</option>
            <option v-for="f in fields" :key="f.field" :value="f.field">{{ f.name }}</option>
          </select>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
td .inp {
  max-width: 240px;
}
</style>
