import type { Directive } from 'vue'

/**
 * Makes what is typed into within a field a combobox; Vuetify's own `role` goes to the field's
 * frame, where screen readers do not look for it.
 */
export const vCombobox: Directive<HTMLElement> = {
  mounted: (field) => field.querySelector('input')?.setAttribute('role', 'combobox'),
}
