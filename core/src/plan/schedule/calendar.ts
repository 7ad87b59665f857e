import ical from 'ical-generator'

/** An entry of a calendar. */
export interface CalendarEntry {
  /** Stays the same when the plan changes, so that the entry is moved and not doubled. */
  id: string
  title: string
  start: Date
  end: Date
  place: string
  text: string
  /** Minutes before the start at which to remind; null for none. */
  remind: number | null
}

/** Writes entries as iCalendar (RFC 5545), times in UTC. */
export function writeCalendar(name: string, entries: readonly CalendarEntry[], stamp: Date): string {
  const calendar = ical({ name, prodId: { company: 'Cold Thread', product: 'plan' } })
  for (const { id, title, start, end, place, text, remind } of entries) {
    const event = calendar.createEvent({ id, summary: title, start, end, stamp, location: place, description: text })
    if (remind !== null) event.createAlarm({ type: 'display' as never, trigger: remind * 60, description: title })
  }
  return calendar.toString()
}
