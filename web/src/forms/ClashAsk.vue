<script setup lang="ts">
import type { ClashWords } from './words.ts'

/** Two versions of one thing, side by side: whose stands is asked, never decided silently. */
defineProps<{ clashes: readonly ClashWords[]; what: string }>()
const emit = defineEmits<{ settle: [keep: 'mine' | 'theirs'] }>()
</script>

<template>
  <v-dialog :model-value="clashes.length > 0" persistent max-width="640">
    <div class="dialog" role="alertdialog" aria-label="Two versions">
      <h3>Someone saved {{ what }} while you were editing</h3>
      <v-table>
        <thead>
          <tr>
            <th><span class="sr">What</span></th>
            <th>Yours</th>
            <th>Theirs</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="clash in clashes" :key="clash.label">
            <td class="quiet">{{ clash.label }}</td>
            <td>{{ clash.mine }}</td>
            <td>{{ clash.theirs }}</td>
          </tr>
        </tbody>
      </v-table>
      <div class="btns after">
        <v-btn variant="flat" autofocus @click="emit('settle', 'mine')">Keep mine</v-btn>
        <v-btn @click="emit('settle', 'theirs')">Keep theirs</v-btn>
      </div>
    </div>
  </v-dialog>
</template>

<style scoped>
.after {
  margin-top: 14px;
}
</style>
