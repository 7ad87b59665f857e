import type { Account, Callout, LogEntry, Observation } from '@cold-thread/contract'
import type { PlantBundle } from '@cold-thread/core/plant'
import createCache from '@emotion/cache'
import { CacheProvider } from '@emotion/react'
import { ThemeProvider } from '@mui/material/styles'
import { configureStore, type UnknownAction } from '@reduxjs/toolkit'
import { render, type RenderResult } from '@testing-library/react'
import type { ReactElement } from 'react'
import { Provider } from 'react-redux'
import { MemoryRouter } from 'react-router'
import { vi } from 'vitest'
import { api, sender } from '../api/api.ts'
import { settings } from '../app/settings.ts'
import { field } from '../field/fieldState.ts'
import { makeTheme } from '../app/theme.ts'

/** One request that a page made. */
export interface Sent {
  method: string
  path: string
  body: unknown
}

export type Answer = unknown | ((sent: Sent) => { status: number; body: unknown })

/** Stands in for the server: answers by "METHOD /path", keeps what was sent. Unknown requests get 404. */
export function stubServer(answers: Record<string, Answer>): Sent[] {
  const sent: Sent[] = []
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname.replace(/^\/api/, '')
    const text = await request.text()
    const isJson = request.headers.get('content-type')?.includes('json') ?? false
    const one = { method: request.method, path, body: isJson && text ? (JSON.parse(text) as unknown) : undefined }
    sent.push(one)
    const key = Object.keys(answers).find((pattern) => new RegExp(`^${pattern}$`).test(`${one.method} ${path}`))
    const answer = key === undefined ? undefined : answers[key]
    const { status, body } =
      key === undefined
        ? { status: 404, body: { code: 'not-found', message: `nothing at ${path}` } }
        : typeof answer === 'function'
          ? (answer as (sent: Sent) => { status: number; body: unknown })(one)
          : { status: 200, body: answer }
    return new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })
  })
  return sent
}

/** Log entries that were sent: each alone, or several that went together. */
export function enteredIn(sent: readonly Sent[]): LogEntry[] {
  return sent
    .filter(({ method }) => method === 'PUT')
    .flatMap(({ body }) => (Array.isArray(body) ? (body as { entry: LogEntry }[]) : [body as { entry: LogEntry }]))
    .map(({ entry }) => entry)
}

/** The answer to a write under an id that the client made. */
export const accepted = ({ path }: Sent) => ({ status: 200, body: { id: path.split('/').at(-1) } })

function makeStore() {
  return configureStore({
    reducer: { [api.reducerPath]: api.reducer, settings: settings.reducer, field: field.reducer },
    middleware: (defaults) => defaults().concat(api.middleware),
  })
}

/** Styles go where the page does not see them: nothing is drawn here, and parsing them took a third of each test. */
const UNSEEN_STYLES = createCache({ key: 'css', container: document.createElement('div') })

/**
 * Renders a part of the app as it stands in a page.
 * @param actions what has happened before
 */
export function renderPage(element: ReactElement, at = '/', actions: readonly UnknownAction[] = []): RenderResult {
  sender.account = TECHNICIAN.id
  const store = makeStore()
  actions.forEach((action) => store.dispatch(action))
  return render(
    <CacheProvider value={UNSEEN_STYLES}>
      <Provider store={store}>
        <ThemeProvider theme={makeTheme('light')}>
          <MemoryRouter initialEntries={[at]}>{element}</MemoryRouter>
        </ThemeProvider>
      </Provider>
    </CacheProvider>,
  )
}

export const TECHNICIAN: Account = {
  id: '01a0c0de-0000-7000-8000-000000000001',
  name: 'tech',
  displayName: 'Night technician',
  role: 'technician',
}
export const VIEWER: Account = { ...TECHNICIAN, name: 'viewer', displayName: 'Reader', role: 'viewer' }
export const LEAD: Account = { ...TECHNICIAN, name: 'lead', displayName: 'Duty lead', role: 'lead' }

export const CALLOUT: Callout = {
  id: '01a0c0de-0000-7000-8000-00000000000c',
  linkId: 'l',
  title: 'Link is down',
  alarm: '',
  state: 'open',
  openedAt: '2026-03-01T02:00:00.000Z',
  openedBy: 'Duty lead',
  assignedTo: null,
  closedAt: null,
  simulated: false,
  shot: false,
  plan: null,
  cause: null,
  version: 1,
}

let serial = 0

/** An entry as the server gives it back. */
export function logged(entry: LogEntry, id?: string): Observation {
  return {
    id: id ?? `01a0c0de-0000-7000-8000-${String(++serial).padStart(12, '0')}`,
    calloutId: CALLOUT.id,
    entry,
    observedAt: '2026-03-01T03:00:00.000Z',
    receivedAt: '2026-03-01T03:00:00.000Z',
    by: 'Night technician',
    supersedes: null,
    superseded: false,
  }
}

/** A plant of two cables and a closure, for pages. */
export function smallPlant(): PlantBundle {
  const cable = (id: string, from: number, to: number) => ({
    id,
    routeId: 'r',
    from,
    to,
    sheathFactor: 1,
    helixFactor: 1,
    construction: 'loose-tube' as const,
    fiberCount: 12,
    tubeSize: 12,
    colorOrder: 'TIA-598' as const,
    fiberType: 'G.652.D',
    groupIndex: { '1310': 1.4676, '1550': 1.4682 },
  })
  const node = (id: string, name: string, kind: 'panel' | 'closure', chainage: number) => ({
    id,
    name,
    kind,
    routeId: 'r',
    chainage,
    slack: [],
  })
  return {
    format: 'cold-thread/plant',
    version: 1,
    name: 'small',
    routes: [{ id: 'r', name: 'Route', length: 3000, landmarks: [{ name: 'Mill gate', chainage: 1400 }] }],
    cables: [cable('a', 0, 1000), cable('b', 1000, 3000)],
    nodes: [
      node('n0', 'West panel', 'panel', 0),
      node('n1', 'Weir closure', 'closure', 1000),
      node('n2', 'East panel', 'panel', 3000),
    ],
    links: [
      {
        id: 'l',
        name: 'West to east',
        from: 'n0',
        to: 'n2',
        state: 'dark',
        path: [
          { cable: 'a', fiber: 5 },
          { node: 'n1', joint: 'splice' },
          { cable: 'b', fiber: 5 },
        ],
        circuits: [],
      },
    ],
  }
}
