import { createSlice, type PayloadAction } from '@reduxjs/toolkit'
import type { ServerSays } from './serverSays.ts'

/** How this device stands to the server, for the quiet line. */
export interface FieldState {
  waiting: number
  refused: number
  /** `signed-out`: entries wait for somebody to sign in. */
  link: 'up' | 'down' | 'signed-out'
  /** When the oldest answer shown now was read, while the server does not answer; null else. */
  shownFrom: string | null
  /**
   * `ready`: a newer version of the app is here and waits to be taken. `needed`: the server speaks another version; what is
   * entered waits until the app is newer.
   */
  update: 'none' | 'ready' | 'needed'
  /** How far this device's clock is ahead of the server's, ms. */
  clockAhead: number
  /** How full this device's store is, 0 to 1; null where the browser does not say. */
  storeFull: number | null
}

export const field = createSlice({
  name: 'field',
  initialState: {
    waiting: 0,
    refused: 0,
    link: 'up',
    shownFrom: null,
    update: 'none',
    clockAhead: 0,
    storeFull: null,
  } as FieldState,
  reducers: {
    counted(state, { payload }: PayloadAction<{ waiting: number; refused: number }>) {
      Object.assign(state, payload)
    },
    answered(state, { payload }: PayloadAction<ServerSays>) {
      state.link = 'up'
      state.shownFrom = null
      if (payload.clockAhead !== null) state.clockAhead = payload.clockAhead
      if (payload.otherVersion) state.update = 'needed'
    },
    unanswered(state, { payload }: PayloadAction<string | null>) {
      if (state.link !== 'signed-out') state.link = 'down'
      if (payload !== null && (state.shownFrom === null || payload < state.shownFrom)) state.shownFrom = payload
    },
    updateWaits(state) {
      state.update = 'ready'
    },
    versionDiffers(state) {
      state.update = 'needed'
    },
    storeSeen(state, { payload }: PayloadAction<number | null>) {
      state.storeFull = payload
    },
    signInMissed(state) {
      state.link = 'signed-out'
    },
  },
})

export const { counted, answered, unanswered, signInMissed, updateWaits, versionDiffers, storeSeen } = field.actions
