import { useAddressQuery } from '../api/api.ts'

/** The address of a page as others reach it, with what speaks against it; null until it is known. */
export function usePublicAddress(path: string): { address: string; problem: string | null } | null {
  const { data } = useAddressQuery()
  if (!data) return null
  const address = new URL(path, data.publicAddress ?? location.origin).href
  return { address, problem: whyNoPhone(address) }
}

/** Why a phone can't come in by an address, or could not keep the app; null where all is well. */
export function whyNoPhone(address: string): string | null {
  const { hostname, protocol } = new URL(address)
  if (hostname === 'localhost' || hostname === '[::1]' || hostname.startsWith('127.'))
    return 'This address is of this very machine: a phone can’t reach it. Start the server with a host, a certificate and a public address (npm start -- --help).'
  return protocol === 'https:'
    ? null
    : 'This address is plain http: a phone can read and enter, but not open the app without network, and what it sends can be read on the way.'
}
