<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ref, shallowRef } from 'vue'
import { tipOf, type Tip } from './tip.ts'

/** One tooltip for the whole page, whatever the pointer rests on or the focus comes to by keys. */

/** How long a pointer rests before something is said, in milliseconds; at once after another tip. */
const REST = 500
const tip = shallowRef<Tip | null>(null)
const shown = ref(false)
let waiting = 0

function come(to: Tip | null, rest: number): void {
  if (to?.on === tip.value?.on) return
  clearTimeout(waiting)
  const soon = shown.value
  shown.value = false
  tip.value = to
  if (to) waiting = window.setTimeout(() => (shown.value = to.on.isConnected), soon ? 0 : rest)
}
const leave = () => come(null, 0)
/** The pointer may rest on the tip itself: it stays to be read. */
const isTip = (at: Element) => at.closest('.v-tooltip') !== null
/** Keys one goes about by: where the page itself leads the focus, nobody asked what stands there. */
const GO = /^(Tab|Arrow|Home|End|Page)/
let went = false
useEventListener(document, 'pointerover', ({ target, pointerType }) => {
  if (pointerType === 'touch' || !(target instanceof Element) || isTip(target)) return
  come(tipOf(target), REST)
})
useEventListener(document, 'focusin', ({ target }) => {
  if (went && target instanceof Element && target.matches(':focus-visible'))
    come(tipOf(target), REST)
})
useEventListener(document, 'keydown', ({ key }) => (went = GO.test(key)), { capture: true })
useEventListener(document, 'pointerdown', () => (went = false), { capture: true })
for (const gone of ['pointerdown', 'keydown', 'scroll', 'focusout'] as const)
  useEventListener(document, gone, leave, { capture: true, passive: true })
useEventListener(document.documentElement, 'pointerleave', leave)
</script>

<template>
  <v-tooltip
    v-if="tip"
    :model-value="shown"
    :target="tip.on"
    :text="tip.text"
    :open-on-hover="false"
    location="bottom"
    interactive
    max-width="360"
    scroll-strategy="none"
  />
</template>
