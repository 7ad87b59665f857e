import type { Account } from '@cold-thread/contract'

/** What the pages offer; the server decides for itself. */
export function canWork(account: Account): boolean {
  return account.role === 'technician' || account.role === 'lead'
}
export function canKeepRecords(account: Account): boolean {
  return account.role === 'records keeper' || account.role === 'lead'
}
export function canLead(account: Account): boolean {
  return account.role === 'lead'
}
