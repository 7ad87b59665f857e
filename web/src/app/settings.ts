import { createSlice, type PayloadAction } from '@reduxjs/toolkit'

export type ThemeChoice = 'light' | 'dark'

const KEY = 'cold-thread.theme'

function initialTheme(): ThemeChoice {
  const kept = localStorage.getItem(KEY)
  if (kept === 'light' || kept === 'dark') return kept
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}

/** Choices of this browser. */
export const settings = createSlice({
  name: 'settings',
  initialState: () => ({ theme: initialTheme() }),
  reducers: {
    themeChosen(state, action: PayloadAction<ThemeChoice>) {
      state.theme = action.payload
      localStorage.setItem(KEY, action.payload)
    },
  },
})

export const { themeChosen } = settings.actions
