<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '#web/state/session.ts'
import DatesKept from './DatesKept.vue'
import FieldsKept from './FieldsKept.vue'
import RecordsKept from './RecordsKept.vue'
import StateSets from './StateSets.vue'
import TagsKept from './TagsKept.vue'
import WorkNav from './WorkNav.vue'

/** How work is set up: states in sets, custom fields, tags, dates, how long records are kept. */
const session = useSession()
const may = computed(() => session.me?.may.structure === true)
</script>

<template>
  <WorkNav />
  <main class="page wide">
    <div class="sheet">
      <h1>Set up</h1>
      <p v-if="!may" class="sub">Managers change states and fields; everyone may make tags.</p>
      <StateSets :may="may" />
      <FieldsKept :may="may" />
      <TagsKept :may="may" />
      <h2 class="section">
        Dates and times
        <span>how they are picked and written</span>
      </h2>
      <DatesKept :may="may" />
      <h2 class="section">
        Records
        <span>how long what piles up by itself is kept</span>
      </h2>
      <RecordsKept :may="may" />
    </div>
  </main>
</template>

<style scoped>
.sheet :deep(.section) {
  margin: 24px 0 8px;
}
@media (max-width: 900px) {
}
</style>
