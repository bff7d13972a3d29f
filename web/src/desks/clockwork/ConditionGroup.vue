<script setup lang="ts">
import { mdiClose } from '@mdi/js'
import type { Group, Test } from '#core/rules/conditions.ts'
import { FACT_LIST } from './facts.ts'
import Glyph from '#web/parts/Glyph.vue'
import TokenPick from '#web/parts/TokenPick.vue'
import { useSession } from '#web/state/session.ts'
import { PRIORITY_LIST, STATE_LIST } from '#web/parts/choices.ts'
import { computed } from 'vue'

/** Conditions as words; groups nest. */
const group = defineModel<Group>({ required: true })
const props = defineProps<{ may: boolean; depth?: number }>()
defineEmits<{ remove: [] }>()
const session = useSession()
const MATCH = [
  { value: 'all', name: 'all of' },
  { value: 'any', name: 'any of' },
  { value: 'none', name: 'none of' },
] as const
const set = (index: number, next: Test | Group | null) =>
  (group.value = {
    ...group.value,
    of: group.value.of.flatMap((each, i) => (i === index ? (next ? [next] : []) : [each])),
  })
const add = (next: Test | Group) =>
  (group.value = { ...group.value, of: [...group.value.of, next] })
const numeric = (field: string) => field === 'estimate' || field === 'assignees'
const ops = (field: string) =>
  numeric(field)
    ? ([
        { value: 'at-least', name: 'is at least' },
        { value: 'at-most', name: 'is at most' },
      ] as const)
    : ([
        { value: 'in', name: 'is' },
        { value: 'not-in', name: 'is not' },
      ] as const)
const opOf = (t: Test) =>
  numeric(t.field)
    ? t.op === 'at-most'
      ? 'at-most'
      : 'at-least'
    : t.op === 'is-not' || t.op === 'not-in'
      ? 'not-in'
      : 'in'
const values = (t: Test): (string | number)[] =>
  [t.value]
    .flat()
    .filter((v): v is string | number => typeof v === 'string' || typeof v === 'number')
const choices = computed((): Record<string, { value: string; name: string }[]> => ({
  priority: [...PRIORITY_LIST],
  state: [...STATE_LIST],
  'client tier': ['gold', 'silver', 'bronze'].map((v) => ({ value: v, name: v })),
  client: session.directory.clients.map((c) => ({ value: c.short, name: c.short })),
}))
const nameOf = (t: Test) =>
  values(t)
    .map((v) => choices.value[t.field]?.find((c) => c.value === v)?.name ?? String(v))
    .join(' or ') || 'choose'
const toggle = (i: number, t: Test, v: string) =>
  set(i, {
    ...t,
    op: opOf(t),
    value: values(t).includes(v) ? values(t).filter((x) => x !== v) : [...values(t), v],
  })
const fieldChanged = (i: number, field: string) =>
  set(i, numeric(field) ? { field, op: 'at-least', value: 1 } : { field, op: 'in', value: [] })
</script>

<template>
  <div class="group" :class="{ inner: props.depth }">
    <TokenPick
      :model-value="group.match"
      :options="MATCH"
      label="How many must hold"
      @update:model-value="group = { ...group, match: $event }"
    />
    <span v-if="!group.of.length" class="quiet">no conditions: every late task</span>
    <button
      v-if="may && props.depth"
      type="button"
      class="x"
      aria-label="Remove this group"
      @click="$emit('remove')"
    >
      <Glyph :path="mdiClose" :size="15" />
    </button>
    <div v-for="(each, i) in group.of" :key="i" class="one">
      <ConditionGroup
        v-if="'match' in each"
        :model-value="each"
        :may="may"
        :depth="(props.depth ?? 0) + 1"
        @update:model-value="set(i, $event)"
        @remove="set(i, null)"
      />
      <template v-else>
        <TokenPick
          :model-value="each.field"
          :options="FACT_LIST"
          label="What"
          @update:model-value="fieldChanged(i, $event)"
        />
        <TokenPick
          :model-value="opOf(each)"
          :options="ops(each.field)"
          label="How"
          @update:model-value="
            set(i, { ...each, op: $event, value: numeric(each.field) ? each.value : values(each) })
          "
        />
        <input
          v-if="numeric(each.field)"
          class="inp n"
          type="number"
          min="0"
          aria-label="Value"
          :value="each.value as number"
          @change="set(i, { ...each, value: Number(($event.target as HTMLInputElement).value) })"
        />
        <v-menu v-else-if="choices[each.field]" :close-on-content-click="false">
          <template #activator="{ props: menu }">
            <button v-bind="menu" type="button" class="val">{{ nameOf(each) }}</button>
          </template>
          <div class="menu">
            <button
              v-for="c in choices[each.field]"
              :key="c.value"
              type="button"
              :class="{ on: values(each).includes(c.value) }"
              :aria-pressed="values(each).includes(c.value)"
              @click="toggle(i, each, c.value)"
            >
              {{ values(each).includes(c.value) ? '✓ ' : '' }}{{ c.name }}
            </button>
          </div>
        </v-menu>
        <input
          v-else
          class="inp t"
          aria-label="Value"
          :value="values(each).join(', ')"
          @change="
            set(i, {
              ...each,
              op: opOf(each),
              value: ($event.target as HTMLInputElement).value
                .split(',')
                .map((v) => v.trim())
                .filter(Boolean),
            })
          "
        />
        <button
          v-if="may"
          type="button"
          class="x"
          aria-label="Remove this condition"
          @click="set(i, null)"
        >
          <Glyph :path="mdiClose" :size="15" />
        </button>
      </template>
    </div>
    <p v-if="may" class="add">
      <button
        type="button"
        class="btn flat"
        @click="add({ field: 'priority', op: 'in', value: ['urgent'] })"
      >
        Add a condition
      </button>
      <button
        v-if="(props.depth ?? 0) < 2"
        type="button"
        class="btn flat"
        @click="add({ match: 'any', of: [] })"
      >
        Add a group
      </button>
    </p>
  </div>
</template>

<style scoped>
.inner {
  border-left: 2px solid var(--rule-strong);
  padding-left: 10px;
  margin: 4px 0;
}
.val {
  color: var(--dusk);
  background: var(--dusk-wash);
  border: 1px solid color-mix(in srgb, var(--dusk) 35%, transparent);
  border-bottom-width: 2px;
  border-radius: 4px;
  padding: 2px 8px;
  font-weight: 550;
}
.n {
  width: 80px;
}
.t {
  width: 200px;
}
.add {
  padding: 0 !important;
}
</style>
