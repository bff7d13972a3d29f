import 'vuetify/styles/core'
import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'

const FIELD = { variant: 'outlined', density: 'compact', hideDetails: 'auto', color: 'primary' }
/** The list that such a field opens has a name, and is scrolled by keys too. */
const CHOICES = { ...FIELD, listProps: { 'aria-label': 'Choices', tabindex: 0 } }

/**
 * Vuetify as the component base; colours and type come from tokens.css, ripples and elevations stay
 * off.
 */
export const vuetify = createVuetify({
  theme: {
    defaultTheme: 'light',
    themes: {
      light: {
        dark: false,
        colors: { primary: '#2c5b4b', surface: '#ffffff', background: '#eef1ee', error: '#b02a37' },
      },
      dark: {
        dark: true,
        colors: { primary: '#8fc4ad', surface: '#1a231f', background: '#131a17', error: '#f2858d' },
      },
    },
  },
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  defaults: {
    global: { ripple: false },
    VBtn: { variant: 'outlined', size: 'small' },
    VBtnToggle: { divided: false, mandatory: true },
    VCheckbox: { density: 'compact', hideDetails: true },
    VCheckboxBtn: { density: 'compact' },
    VChip: { size: 'small' },
    VSwitch: { color: 'primary', density: 'compact', hideDetails: true, inset: true },
    VTextField: FIELD,
    VTextarea: FIELD,
    VSelect: CHOICES,
    // What is typed is taken by Enter without another key.
    VAutocomplete: { ...CHOICES, autoSelectFirst: true },
    VMenu: { transition: false, offset: 4 },
    VDataTable: { itemsPerPage: -1, hideDefaultFooter: true },
    VDialog: { transition: false, maxWidth: 720 },
  },
})
