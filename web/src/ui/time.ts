import dayjs from 'dayjs'
import relativeTime from 'dayjs/plugin/relativeTime'

dayjs.extend(relativeTime)

export function clock(instant: string): string {
  return dayjs(instant).format('YYYY-MM-DD HH:mm')
}

export function ago(instant: string): string {
  return dayjs(instant).fromNow()
}
