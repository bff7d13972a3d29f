<script setup lang="ts">
import { computed } from 'vue'
import type { FirmSheet } from '#contract/firm.ts'
import LoadState from '#web/parts/LoadState.vue'
import { useResource } from '#web/state/resource.ts'
import { useSession } from '#web/state/session.ts'
import RecordsKept from '#web/desks/work/RecordsKept.vue'
import FirmHolidays from './FirmHolidays.vue'
import FirmFacts from './FirmFacts.vue'
import FirmMail from './FirmMail.vue'
import FirmPlace from './FirmPlace.vue'
import FirmReach from './FirmReach.vue'
import PeopleNav from './PeopleNav.vue'

/** The firm: what it is, where, how it is reached and by what mail, how long records are kept. */
const session = useSession()
const { data, error, reload } = useResource<FirmSheet>(
  () => '/firm',
  (c) => c.entities.includes('firm'),
  { keep: true },
)
const owner = computed(() => session.me?.access === 'owner')
async function changed(): Promise<void> {
  await Promise.all([reload(), session.refresh(true)])
}
</script>

<template>
  <PeopleNav />
  <main>
    <div class="sheet pieces">
      <header class="named">
        <h1>The firm</h1>
        <v-btn to="/first-steps">Open the first steps</v-btn>
      </header>
      <LoadState v-if="!data" :error="error" @retry="reload" />
      <div v-else class="halves">
        <div>
          <FirmFacts :firm="data" @changed="changed" />
          <FirmPlace :firm="data" @changed="changed" />
          <FirmHolidays />
        </div>
        <div>
          <FirmReach :firm="data" :owner="owner" @changed="changed" />
          <FirmMail :firm="data" :owner="owner" @changed="changed" />
          <h2 class="section">
            Records
            <span>how long what piles up by itself is kept</span>
          </h2>
          <RecordsKept may />
        </div>
      </div>
    </div>
  </main>
</template>

<style scoped>
.sheet :deep(.two) {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 12px;
}
</style>
