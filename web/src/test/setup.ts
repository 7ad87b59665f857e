import 'fake-indexeddb/auto'
import { cleanup, configure } from '@testing-library/react'
import * as React from 'react'
import { afterEach } from 'vitest'
import { fieldStore } from '../field/fieldStore.ts'

// Only what never comes ends a wait, also where something else keeps the machine busy.
configure({ asyncUtilTimeout: 60_000 })

// React's development build keeps the stack of where each element was made, ten thousand of them a second, for warnings that
// nobody reads here: a quarter of each test. It is told that it has made as many already.
const { __CLIENT_INTERNALS_DO_NOT_USE_OR_WARN_USERS_THEY_CANNOT_UPGRADE: internals } = React as unknown as Record<
  string,
  object
>
Object.defineProperty(internals, 'recentlyCreatedOwnerStacks', { get: () => Infinity, set: () => undefined })

// What a browser has and jsdom lacks.
globalThis.matchMedia ??= ((query: string) => ({
  matches: false,
  media: query,
  addEventListener() {},
  removeEventListener() {},
  addListener() {},
  removeListener() {},
  onchange: null,
  dispatchEvent: () => false,
})) as typeof matchMedia
globalThis.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
} as typeof ResizeObserver

// Node's own Request knows no page that relative addresses belong to.
const NodeRequest = globalThis.Request
globalThis.Request = class extends NodeRequest {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === 'string' ? new URL(input, 'http://localhost') : input, init)
  }
}

afterEach(async () => {
  cleanup()
  await fieldStore.wipe()
})
