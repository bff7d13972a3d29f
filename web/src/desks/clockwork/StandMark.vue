<script setup lang="ts">
import type { Stand } from './went.ts'

/** How it stands with a date of a series, as a small mark: told by shape as well as by colour. */
defineProps<{ stand: Stand }>()
</script>

<template>
  <i class="mark" :class="stand" aria-hidden="true" />
</template>

<style scoped>
.mark {
  --tone: var(--slate);
  display: inline-block;
  flex: none;
  width: 11px;
  height: 11px;
  border: 1.5px solid var(--tone);
  border-radius: 2px;
}
.on-time,
.unseen {
  --tone: var(--fern);
  background: var(--tone);
}
.under-way {
  --tone: var(--dusk);
  background: linear-gradient(0deg, var(--tone) 50%, transparent 50%);
}
.late {
  --tone: var(--ochre);
  background: var(--tone);
  transform: rotate(45deg) scale(0.8);
}
.overdue {
  --tone: var(--alarm);
  border: 0;
  background: var(--tone);
  clip-path: polygon(50% 0, 100% 100%, 0 100%);
}
.held {
  --tone: var(--ochre);
  border-width: 0 3.5px;
  border-radius: 0;
}
.missed {
  --tone: var(--alarm);
  border: 0;
  background:
    linear-gradient(45deg, transparent 43%, var(--tone) 43% 57%, transparent 57%),
    linear-gradient(-45deg, transparent 43%, var(--tone) 43% 57%, transparent 57%);
}
.dropped,
.skipped,
.taken-back {
  border: 0;
  background: linear-gradient(0deg, transparent 40%, var(--tone) 40% 60%, transparent 60%);
}
.expected {
  --tone: var(--hatch);
  background: repeating-linear-gradient(135deg, var(--tone) 0 2px, transparent 2px 4px);
}
@media (forced-colors: active) {
  .mark {
    forced-color-adjust: none;
    --tone: CanvasText;
  }
}
</style>
