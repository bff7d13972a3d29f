<script setup lang="ts">
import { useId } from 'vue'
import { WEEKDAYS, type Weekday } from '#core/calendar/calendar.ts'

/** The hours of each weekday, as they are typed; a day left empty is free. */
const hours = defineModel<Record<Weekday, string>>({ required: true })
defineProps<{ faultAt: (day: Weekday) => string; none?: string }>()
const id = useId()
const DAYS = WEEKDAYS.map((day, i) => ({
  day,
  name: new Intl.DateTimeFormat('en', { weekday: 'long', timeZone: 'UTC' }).format(
    Date.UTC(2024, 0, 1 + i),
  ),
}))
</script>

<template>
  <div class="days">
    <div v-for="{ day, name } in DAYS" :key="day" class="field">
      <label :for="`${id}-${day}`">{{ name }}</label>
      <v-text-field
        :id="`${id}-${day}`"
        v-model="hours[day]"
        maxlength="10"
        :placeholder="none ?? 'free'"
        :error-messages="faultAt(day)"
      />
    </div>
  </div>
</template>

<style scoped>
.days {
  display: grid;
  grid-template-columns: repeat(7, minmax(0, 1fr));
  column-gap: 8px;
}
@media (max-width: 700px) {
  .days {
    grid-template-columns: repeat(auto-fill, minmax(92px, 1fr));
  }
}
</style>
