import { z } from 'zod'
import { id } from './common.ts'

export const ROLES = ['technician', 'lead', 'records keeper', 'viewer'] as const
export const role = z.enum(ROLES)
export type Role = z.infer<typeof role>

const accountName = z
  .string()
  .trim()
  .min(2)
  .max(60)
  .regex(/^[\p{L}\p{N}._-]+$/u, 'letters, digits, dot, dash and underscore')
const password = z.string().min(10, 'at least 10 characters').max(200)

export const credentials = z.object({ name: z.string().min(1).max(60), password: z.string().min(1).max(200) })
export type Credentials = z.infer<typeof credentials>

export const account = z.object({ id, name: z.string(), displayName: z.string(), role }).meta({ id: 'Account' })
export type Account = z.infer<typeof account>

export const newAccount = z.object({
  id,
  name: accountName,
  displayName: z.string().trim().min(1).max(100),
  role,
  password,
})
export type NewAccount = z.infer<typeof newAccount>

export const firstAccount = newAccount.omit({ role: true })
export type FirstAccount = z.infer<typeof firstAccount>

/** Who is signed in; `setUp` is false while no account exists. */
export const sessionState = z.object({ setUp: z.boolean(), account: account.nullable() }).meta({ id: 'Session' })
export type SessionState = z.infer<typeof sessionState>
