import { Alert, AlertTitle } from '@mui/material'
import { CoreError, describeError } from '@ochote/core'
import { ApiProblem } from '../data/api/api-client.ts'

/** A failure in words: what happened, where, what to do. */
export const ProblemNote = ({ error }: { error: unknown }) => {
  if (!error) return null
  if (error instanceof ApiProblem) {
    const { title, place, remedy } = error.problem
    return (
      <Alert severity="error" icon={false} role="alert">
        <AlertTitle>{title}</AlertTitle>
        {place ? `At ${place}. ` : ''}
        {remedy}
      </Alert>
    )
  }
  const words = error instanceof CoreError ? describeError(error) : null
  return (
    <Alert severity="error" icon={false} role="alert">
      <AlertTitle>{words?.message ?? (error instanceof Error ? error.message : 'This could not be computed.')}</AlertTitle>
      {words ? `At ${words.place}. ${words.remedy}` : 'Nothing you entered is lost. Change a setting, or reload the page.'}
    </Alert>
  )
}

/** The product's caution, shown where numbers are acted on. */
export const Caution = () => (
  <Alert severity="warning" icon={false} role="note" sx={{ py: 0 }}>
    Estimates from a simple model. Walk every mark, then drive it slowly, before anyone relies on it. The instructor in the car decides; the
    venue’s rules come before the plan. Never for public roads.
  </Alert>
)
