import type { Database } from './installation.ts'

/** The demo's accounts. */
export const DEMO_ROLES = ['tech', 'lead', 'records', 'viewer'] as const
export type DemoRole = (typeof DEMO_ROLES)[number]

export function passwordOf(role: DemoRole): string {
  return `thrushmere-${role}`
}

/** What journeys need to know of what was set up for all of them. */
export interface JourneySetup {
  database: Database
  /** Value of the session's cookie of each role: the template has these sessions. */
  sessions: Record<DemoRole, string>
}

const SETUP = 'COLD_THREAD_JOURNEYS'

/** Hands the set-up to the processes of the journeys, in their environment. */
export function handOver(setup: JourneySetup): void {
  process.env[SETUP] = JSON.stringify(setup)
}

export function journeySetup(): JourneySetup {
  return JSON.parse(process.env[SETUP]!) as JourneySetup
}
