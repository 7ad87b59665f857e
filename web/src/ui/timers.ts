import { useEffect, useSyncExternalStore } from 'react'

/** Something that takes its time by itself, on this device. */
export interface Timer {
  /** Tells it from others: of the same name there is one. */
  name: string
  /** What it is, for people. */
  label: string
  /** ms since 1970, by this device's clock as it is now. */
  startedAt: number
  minutes: number
  /** Its alarm was heard and put out. */
  heard: boolean
}

const KEY = 'cold-thread.timers'
/** A step of the clock against the time that really passed, ms, that is a change of the clock and not a slow page. */
const JUMP = 5000

const listeners = new Set<() => void>()
let read: { text: string | null; timers: Timer[] } = { text: null, timers: [] }
/** Clock less the time that this page has run: a constant, unless somebody sets the clock. */
let offset = Date.now() - performance.now()
/** By how much the clock was last set while a timer ran, ms; null: it was not. */
let changed: number | null = null

/** All timers of this device; one array as long as nothing changes. */
export function timers(): Timer[] {
  let text: string | null = null
  try {
    text = localStorage.getItem(KEY)
  } catch {
    // No store: no timers outlive the page.
  }
  if (text !== read.text) {
    try {
      read = { text, timers: text === null ? [] : (JSON.parse(text) as Timer[]) }
    } catch {
      read = { text, timers: [] }
    }
  }
  return read.timers
}

function write(next: Timer[]): void {
  try {
    localStorage.setItem(KEY, JSON.stringify(next))
  } catch {
    read = { text: read.text, timers: next }
  }
  for (const listener of listeners) listener()
}

export function startTimer(name: string, label: string, minutes: number): void {
  changed = null
  write([...timers().filter((one) => one.name !== name), { name, label, startedAt: Date.now(), minutes, heard: false }])
}

export function endTimer(name: string): void {
  write(timers().filter((one) => one.name !== name))
}

/** Puts an alarm out; the timer stays until it is ended. */
export function hearTimer(name: string): void {
  write(timers().map((one) => (one.name === name ? { ...one, heard: true } : one)))
}

/**
 * Looks whether the clock was set since it was last looked at; timers that run go on by the time that really passed.
 * A clock that is set while no page is open can't be told from time that passed.
 * @returns by how much it was set, ms, as long as timers run; null where it was not
 */
export function watchClock(): number | null {
  const now = Date.now() - performance.now()
  const by = now - offset
  if (Math.abs(by) >= JUMP) {
    offset = now
    if (timers().length > 0) {
      changed = by
      write(timers().map((one) => ({ ...one, startedAt: one.startedAt + by })))
    }
  }
  return timers().length > 0 ? changed : null
}

/** ms that are left; below zero when it is over. */
export function leftOf({ startedAt, minutes }: Timer): number {
  return startedAt + minutes * 60_000 - Date.now()
}

/** `3:05` of a time in ms, never below zero. */
export function minutesAndSeconds(left: number): string {
  const seconds = Math.max(0, Math.ceil(left / 1000))
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`
}

const subscribe = (listener: () => void) => {
  listeners.add(listener)
  window.addEventListener('storage', listener)
  return () => {
    listeners.delete(listener)
    window.removeEventListener('storage', listener)
  }
}

/** Timers of this device, also those that another tab starts. */
export function useTimers(): Timer[] {
  return useSyncExternalStore(subscribe, timers)
}

/** Calls back twice a second while something runs. */
export function useTick(running: boolean, onTick: () => void): void {
  useEffect(() => {
    if (!running) return
    const timer = setInterval(onTick, 500)
    return () => clearInterval(timer)
  }, [running, onTick])
}
