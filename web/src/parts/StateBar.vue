<script setup lang="ts">
import type { State } from '#contract/words.ts'
import { sayState } from './say.ts'

/**
 * Where a task stands: the kind as a pattern, a state's own colour where it has one, always with
 * its name.
 */
defineProps<{ state: State; colour?: string | null; name?: string }>()
</script>

<template>
  <i
    class="bar"
    :class="[state, colour ? `c-${colour} own` : '']"
    role="img"
    :aria-label="name ?? sayState(state)"
  />
</template>

<style scoped>
.bar {
  display: inline-block;
  width: 7px;
  height: 22px;
  border: 1.5px solid var(--ink-3);
  border-radius: 2px;
  flex: none;
}
.under-way {
  border-color: var(--dusk);
  background: linear-gradient(0deg, var(--dusk) 50%, transparent 50%);
}
.waiting {
  border-color: var(--ochre);
  background: repeating-linear-gradient(135deg, var(--ochre) 0 2px, transparent 2px 4px);
}
.in-review {
  border-color: var(--heather);
  background: linear-gradient(90deg, transparent 1px, var(--heather) 1px 2.4px, transparent 2.4px);
}
.done {
  background: var(--fern);
  border-color: var(--fern);
}
.dropped {
  border-style: dotted;
}
.own {
  border-color: var(--own);
}
.own.under-way {
  background: linear-gradient(0deg, var(--own) 50%, transparent 50%);
}
.own.waiting {
  background: repeating-linear-gradient(135deg, var(--own) 0 2px, transparent 2px 4px);
}
.own.in-review {
  background: linear-gradient(90deg, transparent 1px, var(--own) 1px 2.4px, transparent 2.4px);
}
.own.done {
  background: var(--own);
}
</style>
