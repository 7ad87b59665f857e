import dayjs from 'dayjs'
import relativeTime from 'dayjs/plugin/relativeTime'

dayjs.extend(relativeTime)

export function clock(instant: string): string {
  return dayjs(instant).format('YYYY-MM-DD HH:mm')
}

export function ago(instant: string): string {
  return dayjs(instant).fromNow()
}

/** "47 min", "3 h 05 min", "2 d 4 h" */
export function duration(milliseconds: number): string {
  const minutes = Math.max(0, Math.floor(milliseconds / 60_000))
  const [hours, days] = [Math.floor(minutes / 60), Math.floor(minutes / 1440)]
  if (days > 0) return `${days} d ${hours % 24} h`
  return hours > 0 ? `${hours} h ${String(minutes % 60).padStart(2, '0')} min` : `${minutes} min`
}
