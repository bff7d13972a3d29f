<script setup lang="ts">
import { isAfter, isByEvents } from '#core/recurrence/course.ts'
import { computed } from 'vue'
import type { AnyScheduleBody, Makes, SeriesWays } from '#contract/series.ts'
import { CARRIES, CARRY_NAMES, PROJECT_CARRIES, type Carries } from '#contract/words.ts'
import LineMenu from '#web/parts/LineMenu.vue'
import NumberField from '#web/parts/NumberField.vue'
import TimeField from '#web/parts/TimeField.vue'
import TokenPick from '#web/parts/TokenPick.vue'

/** How a series goes about what it makes, as sentences. */
const ways = defineModel<SeriesWays>({ required: true })
const leadDays = defineModel<number>('leadDays', { required: true })
const { makes, schedule } = defineProps<{ makes: Makes; schedule: AnyScheduleBody }>()
/** What is as usual is not written. */
function set(edit: SeriesWays, usual: SeriesWays): void {
  const next = { ...ways.value, ...edit }
  ways.value = Object.fromEntries(
    Object.entries(next).filter(
      ([name, value]) => JSON.stringify(value) !== JSON.stringify(usual[name as keyof SeriesWays]),
    ),
  )
}
/** What an event brings is made with it. */
const byEvents = computed(() => isByEvents(schedule))
const time = computed({
  get: () => ways.value.makeTime ?? '06:00',
  set: (makeTime: string | null) => makeTime && set({ makeTime }, { makeTime: '06:00' }),
})
/** What is chosen among a few, each as a sentence. */
interface Choice {
  readonly says: string
  readonly label: string
  readonly options: readonly { readonly value: string; readonly name: string }[]
  readonly value: string
  readonly put: (to: never) => void
}
const choices = computed((): Choice[] => {
  if (isAfter(schedule)) return []
  const { overlap = 'make-anyway', catchUp = 'each', each = false } = ways.value
  const rolls = schedule.roll !== undefined && schedule.roll !== 'none'
  const all: Choice[] = [
    {
      ...{ says: 'While the one before is still open,', label: 'While the one before is open' },
      options: [
        { value: 'make-anyway', name: 'it is made all the same' },
        { value: 'hold', name: 'it waits until that is closed' },
        { value: 'close-as-missed', name: 'that is dropped as missed, and it is made' },
        { value: 'move-forward', name: 'that moves on to the new date instead' },
      ],
      value: overlap,
      put: (to: typeof overlap) => set({ overlap: to }, { overlap: 'make-anyway' }),
    },
    {
      ...{ says: 'Of what came due while nothing ran,', label: 'What is made up for' },
      options: [
        { value: 'each', name: 'each is made' },
        { value: 'latest', name: 'only the latest is made' },
        { value: 'none', name: 'none is made' },
      ],
      value: catchUp,
      put: (to: typeof catchUp) => set({ catchUp: to }, { catchUp: 'each' }),
    },
    {
      ...{ says: 'Dates that move onto the same day are', label: 'Dates on one day' },
      options: [
        { value: 'one', name: 'one' },
        { value: 'each', name: 'each its own' },
      ],
      value: each ? 'each' : 'one',
      put: (to: string) => set({ each: to === 'each' }, { each: false }),
    },
  ]
  return all.slice(0, byEvents.value ? 1 : rolls ? 3 : 2)
})
const ROTA = [
  { value: 'all', name: 'all of them' },
  { value: 'turn', name: 'whoever is next in turn' },
  { value: 'least', name: 'whoever has the least to do' },
] as const
function goTo(rota: (typeof ROTA)[number]['value']): void {
  const { rota: _, ...rest } = ways.value
  ways.value = rota === 'all' ? rest : { ...rest, rota }
}
const carries = computed(() => ways.value.carries ?? [])
const offered = computed((): readonly Carries[] =>
  makes.kind === 'task' ? CARRIES : PROJECT_CARRIES,
)
const carry = (what: Carries) =>
  set(
    {
      carries: carries.value.includes(what)
        ? carries.value.filter((one) => one !== what)
        : offered.value.filter((one) => one === what || carries.value.includes(one)),
    },
    { carries: [] },
  )
const carried = computed(
  () =>
    offered.value
      .filter((what) => carries.value.includes(what))
      .map((what) => CARRY_NAMES[what].toLowerCase())
      .join(', ') || 'nothing',
)
const OPEN = [
  { value: 'stay', name: 'stay where they are' },
  { value: 'move', name: 'move into the next one' },
  { value: 'copy', name: 'are made again in the next one' },
] as const
function leave(to: (typeof OPEN)[number]['value']): void {
  const { openTasks: _, ...rest } = ways.value
  ways.value = to === 'stay' ? rest : { ...rest, openTasks: to }
}
</script>

<template>
  <p v-if="!byEvents" class="line">
    Made
    <NumberField
      :model-value="leadDays"
      label="Lead, working days"
      :max="200"
      @update:model-value="$event !== null && (leadDays = $event)"
    />
    working days before its date, at
    <TimeField id="sw-at" v-model="time" label="Made at" />
  </p>
  <p v-for="c in choices" :key="c.label" class="line">
    {{ c.says }}
    <TokenPick
      :model-value="c.value"
      :options="c.options"
      :label="c.label"
      tone="value"
      @update:model-value="c.put($event as never)"
    />
  </p>
  <p v-if="makes.kind === 'task' && makes.assignees.length > 1" class="line">
    It goes to
    <TokenPick
      :model-value="ways.rota ?? 'all'"
      :options="ROTA"
      label="Who gets it"
      tone="person"
      @update:model-value="goTo"
    />
  </p>
  <p class="line">
    From the one before it takes
    <LineMenu
      label="What it takes from the one before"
      several
      :lines="
        offered.map((what) => ({
          name: CARRY_NAMES[what],
          on: carries.includes(what),
          run: () => carry(what),
        }))
      "
    >
      <template #default="{ props }">
        <v-btn v-bind="props" variant="plain" class="tok value">{{ carried }}</v-btn>
      </template>
    </LineMenu>
    <span class="small quiet never">never comments, time or ticks</span>
  </p>
  <p v-if="makes.kind === 'project'" class="line">
    Tasks that are open in the one before
    <TokenPick
      :model-value="ways.openTasks ?? 'stay'"
      :options="OPEN"
      label="Open tasks of the one before"
      tone="value"
      @update:model-value="leave"
    />
  </p>
</template>

<style scoped>
.never {
  margin-left: 8px;
}
.line {
  margin: 10px 0;
}
</style>
