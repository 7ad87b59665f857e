import { createSlice, type PayloadAction } from '@reduxjs/toolkit'

import type { LengthUnits } from '@cold-thread/core/open'

export type ThemeChoice = 'light' | 'dark'

const KEY = 'cold-thread.theme'
const UNITS_KEY = 'cold-thread.units'

function initialTheme(): ThemeChoice {
  const kept = localStorage.getItem(KEY)
  if (kept === 'light' || kept === 'dark') return kept
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}

function initialUnits(): LengthUnits {
  return localStorage.getItem(UNITS_KEY) === 'metric' ? 'metric' : 'metric and inches'
}

/** Choices of this browser. */
export const settings = createSlice({
  name: 'settings',
  initialState: () => ({ theme: initialTheme(), units: initialUnits() }),
  reducers: {
    themeChosen(state, action: PayloadAction<ThemeChoice>) {
      state.theme = action.payload
      localStorage.setItem(KEY, action.payload)
    },
    /** Inches beside metres, where tools are marked in them. */
    unitsChosen(state, action: PayloadAction<LengthUnits>) {
      state.units = action.payload
      localStorage.setItem(UNITS_KEY, action.payload)
    },
  },
})

export const { themeChosen, unitsChosen } = settings.actions
