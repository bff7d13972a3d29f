import {
  computed,
  hasInjectionContext,
  inject,
  provide,
  type ComputedRef,
  type InjectionKey,
} from 'vue'
import { useSession } from '#web/state/session.ts'

/** Whether the work that is looked at may be changed: made, moved, put in order. */
const MAY_CHANGE: InjectionKey<ComputedRef<boolean>> = Symbol('may change')
export const provideMayChange = (may: () => boolean): void => provide(MAY_CHANGE, computed(may))
/** As the view around it says; elsewhere every member may. */
export function useMayChange(): ComputedRef<boolean> {
  const session = useSession()
  const member = computed(() => session.me?.may.member === true)
  return hasInjectionContext() ? inject(MAY_CHANGE, member) : member
}
