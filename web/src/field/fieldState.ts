import { createSlice, type PayloadAction } from '@reduxjs/toolkit'

/** How this device stands to the server, for the quiet line. */
export interface FieldState {
  waiting: number
  refused: number
  /** `signed-out`: entries wait for somebody to sign in. */
  link: 'up' | 'down' | 'signed-out'
  /** When the oldest answer shown now was read, while the server does not answer; null else. */
  shownFrom: string | null
  /** A newer version of the app is here and waits to be taken. */
  update: boolean
}

export const field = createSlice({
  name: 'field',
  initialState: { waiting: 0, refused: 0, link: 'up', shownFrom: null, update: false } as FieldState,
  reducers: {
    counted(state, { payload }: PayloadAction<{ waiting: number; refused: number }>) {
      Object.assign(state, payload)
    },
    answered(state) {
      state.link = 'up'
      state.shownFrom = null
    },
    unanswered(state, { payload }: PayloadAction<string | null>) {
      if (state.link !== 'signed-out') state.link = 'down'
      if (payload !== null && (state.shownFrom === null || payload < state.shownFrom)) state.shownFrom = payload
    },
    updateWaits(state) {
      state.update = true
    },
    signInMissed(state) {
      state.link = 'signed-out'
    },
  },
})

export const { counted, answered, unanswered, signInMissed, updateWaits } = field.actions
