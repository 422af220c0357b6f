import { Typography } from '@mui/material'
import { useServerWords } from '../data/api/server-state.ts'
import { syncInWords, useSync } from '../data/events/sync-state.ts'
import { say } from '../language/say.ts'

/** The one small place that says how this device stands to the server. `before`: what else belongs there, e.g. the receiver. */
export const SyncNote = ({ before, urgent = false }: { before?: string | undefined; urgent?: boolean }) => {
  const sync = useSync()
  const words = [...syncInWords(sync), ...useServerWords()]
  const asks = urgent || (sync.waiting ?? 0) > 0 || words.length > 1
  return (
    <Typography
      role="status"
      aria-label={say`Sync`}
      sx={{ fontSize: 'size.note', color: asks ? 'warning.main' : 'text.primary', fontWeight: 600 }}
    >
      {[...(before ? [before] : []), ...words].join(' · ')}
    </Typography>
  )
}
