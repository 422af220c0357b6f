import { Alert } from '@mui/material'
import { useServerWords } from '../data/api/server-state.ts'

/** The one line above a page that says what is wrong with the server's disk or clock. */
export const ServerNote = () => {
  const words = useServerWords()
  return words.length === 0 ? null : (
    <Alert severity="error" icon={false} role="alert" sx={{ mb: 3, '@media print': { display: 'none' } }}>
      {`${words.join('. ')}.`}
    </Alert>
  )
}
