import { useQuery } from '@tanstack/react-query'
import { networkQuery } from './queries.ts'

/** True for an address that only this very machine can open. */
const isOwnMachine = (host: string): boolean => /^(localhost|127\.|\[?::1)/.test(host)

/** The address under which phones and tablets open this server; null where they cannot. */
export const useReachable = (): { origin: string | null; loading: boolean } => {
  const network = useQuery(networkQuery)
  if (!isOwnMachine(window.location.hostname)) return { origin: window.location.origin, loading: false }
  return { origin: network.data?.addresses[0] ?? null, loading: network.isLoading }
}

/** True where pages stay on this device without a network: only over a secure connection. */
export const keepsPages = (): boolean => window.isSecureContext && 'serviceWorker' in navigator
