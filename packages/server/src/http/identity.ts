import type { IncomingMessage } from 'node:http'
import type { Account } from '@ochote/contract'
import type { Request } from 'express'
import type { PairingTable } from '../accounts/pairings.ts'
import type { AccountStore } from '../accounts/store.ts'

/**
 * Who calls. `key` names them where people take turns, or are counted; `dayId`: the only day of a volunteer, or of a device that was
 * paired for one.
 */
export type Identity = { key: string; account: Account | null; dayId: string | null }

/** Requests that came over the socket in the data folder: whoever can open that can read the folder anyway. */
const fromSocket = new WeakSet<IncomingMessage>()
export const markFromSocket = (req: IncomingMessage): void => void fromSocket.add(req)

/** The command line, as the trail names it. */
const commandLine: Account = {
  id: 'command-line',
  name: 'command line',
  role: 'lead',
  canSignIn: false,
  teaching: { levels: [], vehicleIds: [], languages: [] },
  version: 1,
  archivedAt: null,
  codes: false,
}

/** Reads from its session who sends a request; called for every request. */
export const identityReader =
  (accounts: AccountStore, pairings: PairingTable) =>
  async (req: Request): Promise<Identity> => {
    if (fromSocket.has(req)) return { key: 'command line', account: commandLine, dayId: null }
    const nobody: Identity = { key: `address ${req.ip ?? ''}`, account: null, dayId: null }
    const { accountId, pairingId } = req.session
    const account = accountId ? await accounts.byId(accountId) : null
    if (!account || account.archivedAt) return nobody
    if (pairingId === undefined) return account.role === 'volunteer' ? nobody : { key: `account ${account.id}`, account, dayId: null }
    const dayId = await pairings.dayOf(pairingId)
    return dayId === null ? nobody : { key: `device ${pairingId}`, account, dayId }
  }
