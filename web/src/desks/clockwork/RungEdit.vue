<script setup lang="ts">
import { mdiClose } from '@mdi/js'
import { computed } from 'vue'
import type { Action, Rung, Who } from '#contract/rules.ts'
import { PRIORITY_LIST } from '#web/parts/choices.ts'
import Glyph from '#web/parts/Glyph.vue'
import TokenPick from '#web/parts/TokenPick.vue'
import { useSession } from '#web/state/session.ts'

/** One rung: how late, and what happens then. */
const rung = defineModel<Rung>({ required: true })
defineProps<{ last: boolean; may: boolean; only: boolean }>()
defineEmits<{ remove: [] }>()
const session = useSession()
const units = [
  { value: 'working', name: 'working days late' },
  { value: 'calendar', name: 'calendar days late' },
  { value: 'hours', name: 'hours late' },
] as const
const unit = computed(() => ('hours' in rung.value.delay ? 'hours' : rung.value.delay.unit))
const amount = computed(() =>
  'hours' in rung.value.delay ? rung.value.delay.hours : rung.value.delay.days,
)
const time = computed(() => ('hours' in rung.value.delay ? '09:00' : rung.value.delay.time))
const delay = (n: number, u: 'working' | 'calendar' | 'hours', t: string): Rung['delay'] =>
  u === 'hours'
    ? { hours: Math.max(0, n || 0) }
    : { days: Math.max(1, Math.round(n || 1)), unit: u, time: t || '09:00' }
const set = (edit: Partial<Rung>) => (rung.value = { ...rung.value, ...edit })
const act = (index: number, next: Action | null) =>
  set({ actions: rung.value.actions.flatMap((a, i) => (i === index ? (next ? [next] : []) : [a])) })

const KINDS = [
  { value: 'remind', name: 'Remind' },
  { value: 'tell', name: 'Tell' },
  { value: 'assign', name: 'Assign to' },
  { value: 'set-priority', name: 'Set priority' },
  { value: 'make-task', name: 'Make a task' },
] as const
const TEXT = '{task} for {client} is {days late} late'
function blank(kind: Action['kind']): Action {
  switch (kind) {
    case 'remind':
      return { kind, who: { is: 'assignees' }, daily: false, text: TEXT }
    case 'tell':
      return { kind, who: { is: 'lead' }, mail: true, text: TEXT }
    case 'assign':
      return { kind, who: { is: 'lead' } }
    case 'set-priority':
      return { kind, to: 'urgent' }
    case 'make-task':
      return { kind, title: 'Call about {task}, {client}', who: { is: 'owner' } }
  }
}
const people = computed(() => [
  { value: 'assignees', name: 'whoever is on it' },
  { value: 'lead', name: 'the project’s lead' },
  { value: 'owner', name: 'the rule’s owner' },
  ...session.directory.people
    .filter((p) => p.active || whoCodes.value.has(`person:${p.id}`))
    .map((p) => ({ value: `person:${p.id}`, name: p.active ? p.name : `${p.name} (left)` })),
  ...session.directory.teams.map((t) => ({
    value: `team:${t.id}`,
    name: `least loaded in ${t.name}`,
  })),
])
const code = (who: Who): string => ('id' in who ? `${who.is}:${who.id}` : who.is)
const whoCodes = computed(
  () => new Set(rung.value.actions.flatMap((a) => ('who' in a ? [code(a.who)] : []))),
)
const decode = (text: string): Who => {
  const [is, id] = text.split(':')
  return (id ? { is, id: Number(id) } : { is }) as Who
}
</script>

<template>
  <div class="rung" :class="{ last }">
    <div class="at">
      <input
        class="inp n"
        type="number"
        min="0"
        :value="amount"
        aria-label="How late"
        @change="
          set({ delay: delay(Number(($event.target as HTMLInputElement).value), unit, time) })
        "
      />
    </div>
    <div class="what">
      <p>
        <TokenPick
          :model-value="unit"
          :options="units"
          label="Counted in"
          @update:model-value="set({ delay: delay(amount, $event, time) })"
        />
        <template v-if="unit !== 'hours'">
          at
          <input
            class="inp time"
            type="time"
            :value="time"
            aria-label="Time of day"
            @change="set({ delay: delay(amount, unit, ($event.target as HTMLInputElement).value) })"
          />
        </template>
        <button
          v-if="may && !only"
          type="button"
          class="x"
          aria-label="Remove this rung"
          @click="$emit('remove')"
        >
          <Glyph :path="mdiClose" :size="15" />
        </button>
      </p>
      <div v-for="(action, i) in rung.actions" :key="i" class="action">
        <TokenPick
          :model-value="action.kind"
          :options="KINDS"
          label="Action"
          @update:model-value="act(i, blank($event))"
        />
        <TokenPick
          v-if="action.kind === 'set-priority'"
          :model-value="action.to"
          :options="PRIORITY_LIST"
          label="Priority"
          tone="value"
          @update:model-value="act(i, { ...action, to: $event })"
        />
        <template v-else>
          <template v-if="action.kind === 'make-task'">
            <input
              class="inp text"
              aria-label="Title of the task"
              maxlength="200"
              :value="action.title"
              @change="act(i, { ...action, title: ($event.target as HTMLInputElement).value })"
            />
            for
          </template>
          <TokenPick
            :model-value="code(action.who)"
            :options="people"
            label="Who"
            tone="person"
            @update:model-value="act(i, { ...action, who: decode($event) } as Action)"
          />
          <TokenPick
            v-if="action.kind === 'remind'"
            :model-value="action.daily ? 1 : 0"
            :options="[
              { value: 0, name: 'once' },
              { value: 1, name: 'every working day' },
            ]"
            label="How often"
            tone="value"
            @update:model-value="act(i, { ...action, daily: $event === 1 })"
          />
          <TokenPick
            v-if="action.kind === 'tell'"
            :model-value="action.mail ? 1 : 0"
            :options="[
              { value: 1, name: 'in the app and by e-mail' },
              { value: 0, name: 'in the app' },
            ]"
            label="Way"
            tone="value"
            @update:model-value="act(i, { ...action, mail: $event === 1 })"
          />
          <input
            v-if="action.kind === 'remind' || action.kind === 'tell'"
            class="inp text"
            aria-label="What to say"
            maxlength="500"
            :value="action.text"
            @change="
              act(i, { ...action, text: ($event.target as HTMLInputElement).value } as Action)
            "
          />
        </template>
        <button
          v-if="may && rung.actions.length > 1"
          type="button"
          class="x"
          aria-label="Remove this step"
          @click="act(i, null)"
        >
          <Glyph :path="mdiClose" :size="15" />
        </button>
      </div>
      <button
        v-if="may"
        type="button"
        class="btn flat small"
        @click="set({ actions: [...rung.actions, blank('tell')] })"
      >
        Also do
      </button>
    </div>
  </div>
</template>

<style scoped>
.rung {
  position: relative;
  padding: 0 0 12px;
}
.rung::before {
  content: '';
  position: absolute;
  left: -24px;
  top: 15px;
  width: 15px;
  border-top: 2px solid var(--ink-3);
}
.at {
  position: absolute;
  left: -118px;
  width: 88px;
  text-align: right;
}
.last .n {
  color: var(--alarm);
  font-weight: 650;
}
.last::before {
  border-color: var(--alarm);
}
.n {
  width: 58px;
  text-align: right;
}
.time {
  width: 100px;
}
.text {
  width: 100%;
  max-width: 420px;
  margin: 2px 0;
}
.action {
  padding: 1px 0;
}
@media (max-width: 700px) {
  .at {
    position: static;
    width: auto;
    text-align: left;
  }
  .rung::before {
    left: -14px;
    width: 8px;
  }
}
</style>
