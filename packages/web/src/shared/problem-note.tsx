import { Alert, AlertTitle, Box } from '@mui/material'
import type { StoredSchoolSettings } from '@ochote/contract'
import { CoreError, describeError, type Language, placeText, problemText } from '@ochote/core'
import { QueryClientContext } from '@tanstack/react-query'
import { useContext } from 'react'
import { ApiProblem } from '../data/api/api-client.ts'
import { say, sayWhole, staffLanguage } from '../language/say.ts'

/** A failure in the reader's words: what happened, where, what to do. */
export const ProblemNote = ({ error, language = staffLanguage }: { error: unknown; language?: Language }) => {
  if (!error) return null
  if (error instanceof ApiProblem) {
    const { title, code, data = {}, place, remedy } = error.problem
    // The server's own English says more than the words that all languages have.
    const words = language === 'en' ? null : problemText(code, data, language)
    return (
      <Alert severity="error" icon={false} role="alert">
        <AlertTitle>{words?.message ?? sayWhole(title)}</AlertTitle>
        {place ? `${placeText(place, language)} ` : ''}
        {words?.remedy ?? sayWhole(remedy ?? '')}
      </Alert>
    )
  }
  const words = error instanceof CoreError ? describeError(error, language) : null
  return (
    <Alert severity="error" icon={false} role="alert">
      <AlertTitle>{words?.message ?? (error instanceof Error ? error.message : say`This could not be computed.`)}</AlertTitle>
      {words
        ? `${placeText(words.place, language)} ${words.remedy}`
        : say`Nothing you entered is lost. Change a setting, or reload the page.`}
    </Alert>
  )
}

/** Cautions of the school's own, as far as this page knows them. */
const useOwnCautions = (): readonly string[] =>
  useContext(QueryClientContext)?.getQueryData<StoredSchoolSettings>(['school-settings'])?.schoolSettings.cautions ?? []

/** The product's caution, and the school's own after it, shown where numbers are acted on. */
export const Caution = () => {
  const own = useOwnCautions()
  return (
    <Box
      role="note"
      sx={{ borderLeft: 'note', borderColor: 'warning.main', px: 3, fontSize: 'size.text', '& summary': { cursor: 'pointer' } }}
    >
      <details>
        <summary>{say`Estimates: walk every mark, then drive it slowly, before anyone relies on it. The instructor in the car decides.`}</summary>
        {say`They come from a simple model. The venue’s rules come before the plan. Never for public roads.`}
      </details>
      {own.map((caution) => (
        <div key={caution}>{caution}</div>
      ))}
    </Box>
  )
}
