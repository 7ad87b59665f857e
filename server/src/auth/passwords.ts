import { hash, verify } from '@node-rs/argon2'

/** argon2id with the OWASP Password Storage Cheat Sheet's minimum of 19 MiB, 2 passes, 1 lane. */
const PARAMETERS = { memoryCost: 19_456, timeCost: 2, parallelism: 1 }

export function hashPassword(password: string): Promise<string> {
  return hash(password, PARAMETERS)
}

export async function verifyPassword(passwordHash: string, password: string): Promise<boolean> {
  return verify(passwordHash, password)
}

let decoy: Promise<string> | null = null

/** Spends the time of a check where there is no account, so that names can't be told by the clock. */
export async function pretendToVerify(password: string): Promise<void> {
  decoy ??= hashPassword('no account has this password')
  await verifyPassword(await decoy, password)
}
